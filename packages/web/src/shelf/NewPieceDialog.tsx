import { Button, FileButton, Modal } from '@mantine/core';
import { IconFolderOpen } from '@tabler/icons-react';
import { useNavigate } from 'react-router';
import { createPiece, stripUrl, useAllFootage } from '../api/queries.js';
import { formatSeconds } from '../ui/format.js';
import { tellProblem } from '../ui/notify.js';
import classes from './shelf.module.css';
import { VIDEO_FILES } from './video-files.js';

interface NewPieceDialogProps {
  readonly opened: boolean;
  readonly onClose: () => void;
  readonly onFiles: (files: File[]) => void;
}

/** A new piece from footage that is already here, or from a new file. */
export function NewPieceDialog({ opened, onClose, onFiles }: NewPieceDialogProps) {
  const navigate = useNavigate();
  const footage = useAllFootage();
  const begin = async (id: string) => {
    const piece = await createPiece({ footage: id }).catch(tellProblem);
    if (piece) navigate(`/pieces/${piece.id}/cut`);
  };
  return (
    <Modal opened={opened} onClose={onClose} title="New piece" size="lg" centered>
      <p className={classes.dialogAbout}>From footage that is here already:</p>
      <ul className={classes.footageList}>
        {(footage.data ?? []).map((file) => (
          <li key={file.id}>
            <button type="button" onClick={() => void begin(file.id)}>
              <img
                src={stripUrl(file.id, Math.floor(file.strip.count / 2), String(file.strip.exact))}
                alt=""
              />
              <span>
                <strong>{file.name}</strong>
                {file.width} × {file.height} · {formatSeconds(file.seconds)}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {footage.data?.length === 0 && <p className={classes.dialogAbout}>None yet.</p>}
      <FileButton multiple accept={VIDEO_FILES} onChange={onFiles}>
        {(props) => (
          <Button {...props} variant="default" leftSection={<IconFolderOpen size={16} />}>
            Choose another file
          </Button>
        )}
      </FileButton>
    </Modal>
  );
}
