import { Button, FileButton, Kbd, TextInput } from '@mantine/core';
import { Dropzone } from '@mantine/dropzone';
import { useHotkeys } from '@mantine/hooks';
import { notifications } from '@mantine/notifications';
import type { PieceView } from '@muted-pond/core/api';
import { IconPlus } from '@tabler/icons-react';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { createPiece, useAllFootage, usePieces, useShelfChanges, useShownTrials } from '../api/queries.js';
import { Mark, Rings } from '../ui/Mark.js';
import { tellProblem } from '../ui/notify.js';
import { NewPieceDialog } from './NewPieceDialog.js';
import { PieceCard } from './PieceCard.js';
import classes from './shelf.module.css';
import { UploadList } from './UploadList.js';
import { bringIn } from './uploads-store.js';
import { VIDEO_FILES } from './video-files.js';

export function ShelfPage() {
  const navigate = useNavigate();
  const pieces = usePieces();
  const trials = useShownTrials();
  const footage = useAllFootage();
  const changes = useShelfChanges();
  const [words, setWords] = useState('');
  const [choosing, setChoosing] = useState(false);
  const search = useRef<HTMLInputElement>(null);
  useHotkeys([['/', () => search.current?.focus()]]);

  /** One file opens its new piece; of several each gets a piece, and they wait on the shelf. */
  async function takeFiles(files: File[]): Promise<void> {
    const made = await Promise.all(
      files.map(async (file) => {
        const brought = await bringIn(file);
        if (!brought) return null;
        const piece = await createPiece({ footage: brought.id }).catch(tellProblem);
        return piece ?? null;
      }),
    );
    void pieces.refetch();
    const only = files.length === 1 ? made[0] : null;
    if (only) navigate(`/pieces/${only.id}/cut`);
  }

  function remove(piece: PieceView): void {
    changes.remove.mutate(piece.id, { onError: tellProblem });
    notifications.show({
      id: `deleted-${piece.id}`,
      autoClose: 10_000,
      title: `“${piece.name}” is off the shelf`,
      message: (
        <Button
          size="compact-sm"
          variant="light"
          onClick={() => {
            changes.restore.mutate(piece.id, { onError: tellProblem });
            notifications.hide(`deleted-${piece.id}`);
          }}
        >
          Put it back
        </Button>
      ),
    });
  }

  const wanted = words.trim().toLowerCase();
  const shown = (pieces.data ?? []).filter((piece) => {
    const source = footage.data?.find((file) => file.id === piece.recipe.sources[0].hash);
    return `${piece.name} ${source?.name ?? ''}`.toLowerCase().includes(wanted);
  });

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
        <Button color="deep.8" leftSection={<IconPlus size={16} />} onClick={() => setChoosing(true)}>
          New piece
        </Button>
      </header>

      <main className={classes.page}>
        <section className={classes.drop}>
          <Rings />
          <div>
            <h1 className={classes.dropTitle}>Drop a video</h1>
            <p className={classes.dropAbout}>
              MP4, MOV, WebM, MKV, AVI, MPEG, anywhere on this page. It is kept here, on this machine.
            </p>
          </div>
          <FileButton multiple accept={VIDEO_FILES} onChange={(files) => void takeFiles(files)}>
            {(props) => (
              <Button {...props} variant="default">
                Choose files
              </Button>
            )}
          </FileButton>
        </section>
        <UploadList />

        <div className={classes.listHead}>
          <h2>Pieces</h2>
          <span>newest first</span>
        </div>
        {pieces.isError && <p className={classes.empty}>{pieces.error.message}</p>}
        {pieces.isSuccess && shown.length === 0 && (
          <p className={classes.empty}>
            {wanted
              ? `No piece and no footage is called “${words.trim()}”.`
              : 'The shelf is empty. Drop a video above to begin.'}
          </p>
        )}
        <div className={classes.grid}>
          {shown.map((piece) => (
            <PieceCard
              key={piece.id}
              piece={piece}
              trial={trials.data?.find((trial) => trial.piece === piece.id) ?? null}
              onRename={(name) => changes.rename.mutate({ piece, name }, { onError: tellProblem })}
              onDuplicate={() => changes.duplicate.mutate(piece.id, { onError: tellProblem })}
              onDelete={() => remove(piece)}
            />
          ))}
        </div>
      </main>

      <Dropzone.FullScreen
        active
        aria-label="Drop videos here"
        onDrop={(files) => void takeFiles(files)}
        classNames={{ inner: classes.dropInner }}
      >
        <div className={classes.everywhere}>
          <Rings width={160} />
          <h2>Let go to bring it in</h2>
        </div>
      </Dropzone.FullScreen>
      <NewPieceDialog
        opened={choosing}
        onClose={() => setChoosing(false)}
        onFiles={(files) => {
          setChoosing(false);
          void takeFiles(files);
        }}
      />
    </>
  );
}
