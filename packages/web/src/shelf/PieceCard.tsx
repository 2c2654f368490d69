import { ActionIcon, Menu, Progress, TextInput } from '@mantine/core';
import type { PieceView, TrialView } from '@muted-pond/core/api';
import type { Recipe } from '@muted-pond/core/recipe';
import type { FrameTimes } from '@muted-pond/core/timing';
import { IconCopy, IconDots, IconPencil, IconTrash } from '@tabler/icons-react';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import { frameUrl } from '../api/frame-urls.js';
import { useFootage, useTimes } from '../api/queries.js';
import { PlayingTrial } from '../trials/PlayingTrial.js';
import { formatBytes, formatRate } from '../ui/format.js';
import classes from './shelf.module.css';

/** Making the reel needs much that the shelf does not: it is fetched after the shelf is there. */
const LoopSeconds = lazy(() => import('./LoopSeconds.js'));

function RoundLength(props: { recipe: Recipe; times: FrameTimes }) {
  return (
    <Suspense fallback="…">
      <LoopSeconds {...props} />
    </Suspense>
  );
}

interface PieceCardProps {
  readonly piece: PieceView;
  /** The card plays this very file, or shows how far it is. */
  readonly trial: TrialView | null;
  readonly onRename: (name: string) => void;
  readonly onDuplicate: () => void;
  readonly onDelete: () => void;
}

export function PieceCard({ piece, trial, onRename, onDuplicate, onDelete }: PieceCardProps) {
  const [renaming, setRenaming] = useState(false);
  const still = usePieceStill(piece);
  const finished = trial?.state === 'done' ? trial : null;
  const open = `/pieces/${piece.id}/${trial ? 'weigh' : 'cut'}`;
  const finishName = (name: string) => {
    setRenaming(false);
    if (name.trim() && name.trim() !== piece.name) onRename(name.trim());
  };

  return (
    <article className={classes.card}>
      <Link to={open} className={classes.picture} aria-label={`Open ${piece.name}`}>
        {finished ? (
          <PlayingTrial trial={finished} about="" />
        ) : (
          still && <img src={still} alt="" draggable={false} />
        )}
        <WeightPill trial={trial} />
        {trial?.progress && (
          <Progress
            className={classes.making}
            size={5}
            radius={0}
            color="lily"
            value={trial.progress.done * 100}
            aria-label={`The file of ${piece.name} in the making`}
          />
        )}
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
          <h3>
            <Link to={open} tabIndex={-1}>
              {piece.name}
            </Link>
          </h3>
        )}
        <Menu position="bottom-end" withinPortal returnFocus={!renaming}>
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
      <PieceFacts piece={piece} />
    </article>
  );
}

/** The picture of a piece that has no file yet: the frame in the middle of its span. */
function usePieceStill({ recipe }: PieceView): string {
  const [source] = recipe.sources;
  const middle = Math.floor((recipe.span.start + recipe.span.end) / 2);
  return source.kind === 'stills' ? frameUrl(source.pictures[0].hash, 0) : frameUrl(source.hash, middle);
}

function WeightPill({ trial }: { trial: TrialView | null }) {
  if (trial?.figures) {
    return (
      <span className={classes.weight} title={`${trial.figures.bytes} bytes`}>
        {formatBytes(trial.figures.bytes)}
      </span>
    );
  }
  if (!trial?.progress) return null;
  const { done } = trial.progress;
  return (
    <span className={classes.weight}>
      {done > 0 ? `made to ${Math.round(done * 100)} %` : 'waits its turn'}
    </span>
  );
}

/** Its length, its rate, and what it is made from. */
function PieceFacts({ piece }: { piece: PieceView }) {
  const { recipe } = piece;
  const [source] = recipe.sources;
  if (source.kind === 'footage') return <FootageFacts piece={piece} hash={source.hash} />;
  const { pictures, delayCs } = source;
  const times = {
    starts: pictures.map((_, index) => (index * delayCs) / 100),
    duration: (pictures.length * delayCs) / 100,
  };
  return (
    <p className={classes.facts}>
      {pictures.length === 1 ? '1 picture' : `${pictures.length} pictures`} ·{' '}
      <RoundLength recipe={recipe} times={times} />
    </p>
  );
}

function FootageFacts({ piece, hash }: { piece: PieceView; hash: string }) {
  const footage = useFootage(hash);
  const times = useTimes(hash);
  const { recipe } = piece;
  const { frameRate } = recipe.weigh;
  return (
    <p className={classes.facts}>
      {times.data ? <RoundLength recipe={recipe} times={times.data} /> : '…'}
      {frameRate !== 'source' && ` · ${formatRate(frameRate)} fps`} ·{' '}
      {footage.data?.problem ? (
        <span className={classes.lostFile} title="Bring the same file in again, and the piece is whole">
          {footage.data.name} is {footage.data.problem} on the disk
        </span>
      ) : (
        (footage.data?.name ?? '…')
      )}
    </p>
  );
}
