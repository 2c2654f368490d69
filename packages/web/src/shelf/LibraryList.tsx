import { ActionIcon, Button, Checkbox, Menu } from '@mantine/core';
import type { FootageView, PieceView } from '@muted-pond/core/api';
import { sourceHashes } from '@muted-pond/core/recipe';
import { IconDots, IconPlus, IconTrash } from '@tabler/icons-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { smallUrl } from '../api/frame-urls.js';
import { createPiece, useLibraryChanges } from '../api/queries.js';
import { formatBytes, formatSeconds } from '../ui/format.js';
import { byName } from '../ui/natural-order.js';
import { tellProblem, tellWithUndo } from '../ui/notify.js';
import { stillsPiece } from './plan-pieces.js';
import classes from './shelf.module.css';

interface LibraryListProps {
  readonly footage: readonly FootageView[];
  readonly pieces: readonly PieceView[];
}

/** Every file that was brought in: one file may serve many pieces, and pictures can be chosen together. */
export function LibraryList({ footage, pieces }: LibraryListProps) {
  const navigate = useNavigate();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const pictures = footage.filter((file) => chosen.has(file.id));
  const begin = async (piece: Parameters<typeof createPiece>[0]) => {
    const made = await createPiece(piece).catch(tellProblem);
    if (made) await navigate(`/pieces/${made.id}/${piece.stills ? 'gather' : 'cut'}`);
  };
  const choose = (id: string, isChosen: boolean) =>
    setChosen((old) => new Set(isChosen ? [...old, id] : [...old].filter((other) => other !== id)));

  return (
    <>
      {pictures.length > 0 && (
        <div className={classes.chosen}>
          <span>
            {pictures.length} {pictures.length === 1 ? 'picture' : 'pictures'} chosen
          </span>
          <Button size="compact-md" variant="subtle" color="deep" onClick={() => setChosen(new Set())}>
            None
          </Button>
          <Button
            size="compact-md"
            color="deep.8"
            onClick={() => void begin(stillsPiece(byName(pictures, (file) => file.name)))}
          >
            One piece from them
          </Button>
        </div>
      )}
      <div className={classes.library}>
        {footage.map((file) => (
          <LibraryCard
            key={file.id}
            file={file}
            used={pieces.filter((piece) => sourceHashes(piece.recipe).includes(file.id)).length}
            isChosen={chosen.has(file.id)}
            onChoose={(isChosen) => choose(file.id, isChosen)}
            onBegin={() => void begin(file.kind === 'picture' ? stillsPiece([file]) : { footage: file.id })}
          />
        ))}
      </div>
    </>
  );
}

interface LibraryCardProps {
  readonly file: FootageView;
  /** In how many pieces. */
  readonly used: number;
  readonly isChosen: boolean;
  readonly onChoose: (isChosen: boolean) => void;
  readonly onBegin: () => void;
}

function LibraryCard({ file, used, isChosen, onChoose, onBegin }: LibraryCardProps) {
  const { remove, restore } = useLibraryChanges();
  const takeOut = () => {
    remove.mutate(file.id, { onError: tellProblem });
    tellWithUndo(`“${file.name}” is out of the library`, () =>
      restore.mutate(file.id, { onError: tellProblem }),
    );
  };
  return (
    <article className={classes.file} data-chosen={isChosen || undefined}>
      <button
        type="button"
        className={classes.filePicture}
        onClick={onBegin}
        aria-label={`New piece from ${file.name}`}
      >
        <img
          src={smallUrl(file.id, Math.floor(file.frameCount / 2))}
          alt=""
          draggable={false}
          loading="lazy"
        />
        <span className={classes.newFrom}>
          <IconPlus size={14} /> New piece
        </span>
      </button>
      <div className={classes.fileText}>
        <div className={classes.fileHead}>
          {file.kind === 'picture' && (
            <Checkbox
              size="xs"
              aria-label={`Choose ${file.name}`}
              checked={isChosen}
              onChange={(event) => onChoose(event.currentTarget.checked)}
            />
          )}
          <strong title={file.name}>{file.name}</strong>
          <Menu position="bottom-end" withinPortal>
            <Menu.Target>
              <ActionIcon size="sm" variant="subtle" color="deep" aria-label={`More for ${file.name}`}>
                <IconDots size={16} />
              </ActionIcon>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Item leftSection={<IconPlus size={15} />} onClick={onBegin}>
                New piece
              </Menu.Item>
              <Menu.Item color="koi" leftSection={<IconTrash size={15} />} onClick={takeOut}>
                Take out of the library
              </Menu.Item>
            </Menu.Dropdown>
          </Menu>
        </div>
        <span>
          {file.width} × {file.height}
          {file.kind !== 'picture' && ` · ${formatSeconds(file.seconds)}`} · {formatBytes(file.bytes)}
        </span>
        <span>{used === 0 ? 'in no piece yet' : used === 1 ? 'in 1 piece' : `in ${used} pieces`}</span>
      </div>
    </article>
  );
}
