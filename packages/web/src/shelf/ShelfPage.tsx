import { Button, FileButton, Kbd, TextInput } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import type { PieceView, ShelfPiece } from '@muted-pond/core/api';
import { sourceHashes } from '@muted-pond/core/recipe';
import { IconPlus } from '@tabler/icons-react';
import { useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { backUp, useAllFootage, usePieces, useShelfChanges, useShownTrials } from '../api/queries.js';
import { DropAnywhere } from '../ui/DropAnywhere.js';
import { formatBytes } from '../ui/format.js';
import { Mark, Rings } from '../ui/Mark.js';
import { tellDone, tellProblem, tellWithUndo } from '../ui/notify.js';
import { sentenceOf } from '../ui/sentence.js';
import { ALL_FILES } from './file-kinds.js';
import { HealthNotes } from './HealthNotes.js';
import { LibraryList } from './LibraryList.js';
import { PieceCard } from './PieceCard.js';
import classes from './shelf.module.css';
import { takeFiles } from './take-files.js';
import { UnreadableCard } from './UnreadableCard.js';
import { UploadList } from './UploadList.js';

/**
 * The pieces, or the footage they are made from. Files come in anywhere on the page: dropped, chosen or
 * pasted.
 */
export function ShelfPage({ list }: { list: 'pieces' | 'footage' }) {
  const navigate = useNavigate();
  const pieces = usePieces();
  const trials = useShownTrials();
  const footage = useAllFootage();
  const changes = useShelfChanges();
  const [words, setWords] = useState('');
  const search = useRef<HTMLInputElement>(null);
  useHotkeys([['/', () => search.current?.focus()]]);

  /** A single new piece is opened; several wait on the shelf. */
  async function bring(files: File[]): Promise<void> {
    const made = await takeFiles(files);
    void pieces.refetch();
    void footage.refetch();
    if (made.length !== 1) return;
    const [piece] = made;
    await navigate(`/pieces/${piece.id}/${piece.recipe.sources[0].kind === 'stills' ? 'gather' : 'cut'}`);
  }

  function remove(piece: Pick<ShelfPiece, 'id' | 'name'>): void {
    changes.remove.mutate(piece.id, { onError: tellProblem });
    tellWithUndo(`“${piece.name}” is off the shelf`, () =>
      changes.restore.mutate(piece.id, { onError: tellProblem }),
    );
  }

  const wanted = words.trim().toLowerCase();
  const files = footage.data ?? [];
  const namesOf = (piece: ShelfPiece) =>
    'recipe' in piece
      ? sourceHashes(piece.recipe).map((hash) => files.find((file) => file.id === hash)?.name ?? '')
      : [];
  const shown = (pieces.data ?? []).filter((piece) =>
    [piece.name, ...namesOf(piece)].join(' ').toLowerCase().includes(wanted),
  );
  const shownFiles = files.filter((file) => file.name.toLowerCase().includes(wanted));
  return (
    <>
      <header className={classes.head}>
        <div className={classes.brand}>
          <Mark /> Muted Pond
        </div>
        <TextInput
          ref={search}
          className={classes.search}
          variant="filled"
          placeholder="Find a piece or its footage"
          aria-label="Find a piece or its footage"
          value={words}
          onChange={(event) => setWords(event.currentTarget.value)}
          rightSection={<Kbd size="xs">/</Kbd>}
        />
        <button
          type="button"
          className={classes.backUp}
          title="Writes a copy of everything into a folder beside the data"
          onClick={() => void copyAll()}
        >
          Back up
        </button>
        <Link className={classes.headLink} to="/practice-host">
          Practice host
        </Link>
        <Link className={classes.headLink} to="/limits">
          Limits
        </Link>
        <Button color="deep.8" leftSection={<IconPlus size={16} />} component={Link} to="/footage">
          New piece
        </Button>
      </header>

      <main className={classes.page}>
        <section className={classes.drop}>
          <Rings />
          <div>
            <h1 className={classes.dropTitle}>Drop a video, some pictures or an old loop</h1>
            <p className={classes.dropAbout}>
              Anything that plays, anywhere on this page; pasting works too. It is kept here, on this machine.
            </p>
          </div>
          <FileButton multiple accept={ALL_FILES} onChange={(files) => void bring(files)}>
            {(props) => (
              <Button {...props} variant="default">
                Choose files
              </Button>
            )}
          </FileButton>
        </section>
        <HealthNotes />
        <UploadList />

        <nav className={classes.listHead} aria-label="What is listed">
          <Link to="/" aria-current={list === 'pieces' ? 'page' : undefined}>
            Pieces
          </Link>
          <Link to="/footage" aria-current={list === 'footage' ? 'page' : undefined}>
            Footage
          </Link>
          <span>
            {list === 'pieces'
              ? 'newest first'
              : 'click one for a new piece; choose several pictures for one'}
          </span>
        </nav>
        {list === 'pieces' ? (
          <>
            {pieces.isError && <p className={classes.empty}>{sentenceOf(pieces.error)}</p>}
            {pieces.isSuccess && shown.length === 0 && (
              <p className={classes.empty}>
                {wanted
                  ? `No piece and no footage is called “${words.trim()}”.`
                  : 'The shelf is empty. Drop a video or pictures above to begin.'}
              </p>
            )}
            <div className={classes.grid}>
              {shown.map((piece) =>
                'recipe' in piece ? (
                  <PieceCard
                    key={piece.id}
                    piece={piece}
                    trial={trials.data?.find((trial) => trial.piece === piece.id) ?? null}
                    onRename={(name) => changes.rename.mutate({ piece, name }, { onError: tellProblem })}
                    onDuplicate={() => changes.duplicate.mutate(piece.id, { onError: tellProblem })}
                    onDelete={() => remove(piece)}
                  />
                ) : (
                  <UnreadableCard key={piece.id} piece={piece} onDelete={() => remove(piece)} />
                ),
              )}
            </div>
          </>
        ) : (
          <>
            {footage.isError && <p className={classes.empty}>{sentenceOf(footage.error)}</p>}
            {footage.isSuccess && shownFiles.length === 0 && (
              <p className={classes.empty}>
                {wanted ? `No footage is called “${words.trim()}”.` : 'Nothing here yet. Drop a file above.'}
              </p>
            )}
            <LibraryList
              footage={shownFiles}
              pieces={(pieces.data ?? []).filter((piece): piece is PieceView => 'recipe' in piece)}
            />
          </>
        )}
      </main>

      <DropAnywhere
        label="Drop files here"
        words="Let go to bring it in"
        onFiles={(dropped) => void bring(dropped)}
      />
    </>
  );
}

/** A copy of everything, where it lies being told. */
async function copyAll(): Promise<void> {
  try {
    const { folder, holds } = await backUp();
    const { pieces, footage, trials, pages, bytes } = holds;
    const held = [
      `${counted(pieces, 'piece')}, ${counted(footage, 'file')} of footage, ${counted(trials, 'trial')}`,
      `and ${counted(pages, 'page')} of the practice host`,
    ].join(' ');
    tellDone('A copy is made', `It holds ${held} (${formatBytes(bytes)}), and lies in ${folder}.`);
  } catch (error) {
    tellProblem(error);
  }
}

function counted(count: number, what: string): string {
  return `${count} ${count === 1 ? what : `${what}s`}`;
}
