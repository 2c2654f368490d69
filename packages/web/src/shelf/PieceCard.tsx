import { ActionIcon, Menu, TextInput } from '@mantine/core';
import type { PieceView, TrialView } from '@muted-pond/core/api';
import { spanSeconds } from '@muted-pond/core/timing';
import { IconCopy, IconDots, IconPencil, IconTrash } from '@tabler/icons-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { stripUrl, trialFileUrl, useFootage, useTimes } from '../api/queries.js';
import { formatBytes, formatRate, formatSeconds } from '../ui/format.js';
import classes from './shelf.module.css';

interface PieceCardProps {
  readonly piece: PieceView;
  /** The card plays this very file. */
  readonly trial: TrialView | null;
  readonly onRename: (name: string) => void;
  readonly onDuplicate: () => void;
  readonly onDelete: () => void;
}

export function PieceCard({ piece, trial, onRename, onDuplicate, onDelete }: PieceCardProps) {
  const [renaming, setRenaming] = useState(false);
  const source = piece.recipe.sources[0].hash;
  const footage = useFootage(source);
  const times = useTimes(source);
  const { weigh, span } = piece.recipe;
  const strip = footage.data?.strip;
  const middle = strip
    ? Math.floor((((span.start + span.end) / 2) * strip.count) / (footage.data?.frameCount ?? 1))
    : 0;
  const picture = trial
    ? trialFileUrl(trial.id)
    : strip && strip.coarse > middle
      ? stripUrl(source, middle, String(strip.exact))
      : null;
  const finishName = (name: string) => {
    setRenaming(false);
    if (name.trim() && name.trim() !== piece.name) onRename(name.trim());
  };

  return (
    <article className={classes.card}>
      <Link
        to={`/pieces/${piece.id}/${trial ? 'weigh' : 'cut'}`}
        className={classes.picture}
        aria-label={`Open ${piece.name}`}
      >
        {picture && <img src={picture} alt="" draggable={false} />}
        <span
          className={classes.weight}
          title={trial?.figures ? `${trial.figures.bytes} bytes` : 'not weighed yet'}
        >
          {trial?.figures ? formatBytes(trial.figures.bytes) : '—'}
        </span>
      </Link>
      <div className={classes.caption}>
        {renaming ? (
          <TextInput
            autoFocus
            size="xs"
            aria-label="Name of the piece"
            defaultValue={piece.name}
            onFocus={(event) => event.currentTarget.select()}
            onBlur={(event) => finishName(event.currentTarget.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') event.currentTarget.blur();
              if (event.key === 'Escape') setRenaming(false);
            }}
          />
        ) : (
          <h3>{piece.name}</h3>
        )}
        <Menu position="bottom-end" withinPortal>
          <Menu.Target>
            <ActionIcon variant="subtle" color="deep" aria-label={`More for ${piece.name}`}>
              <IconDots size={18} />
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item leftSection={<IconPencil size={15} />} onClick={() => setRenaming(true)}>
              Rename
            </Menu.Item>
            <Menu.Item leftSection={<IconCopy size={15} />} onClick={onDuplicate}>
              Duplicate
            </Menu.Item>
            <Menu.Item color="koi" leftSection={<IconTrash size={15} />} onClick={onDelete}>
              Delete
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
      </div>
      <p className={classes.facts}>
        {times.data ? formatSeconds(spanSeconds(times.data, span)) : '…'} · {formatRate(weigh.frameRate)} fps
        · {footage.data?.name ?? '…'}
      </p>
    </article>
  );
}
