import { Button } from '@mantine/core';
import type { UnreadablePiece } from '@muted-pond/core/api';
import { IconAlertTriangle, IconDownload, IconTrash } from '@tabler/icons-react';
import { recipeFileUrl } from '../api/queries.js';
import classes from './shelf.module.css';

interface UnreadableCardProps {
  readonly piece: UnreadablePiece;
  readonly onDelete: () => void;
}

/** A piece that this version cannot open: why, and its recipe to be saved. Nothing of it is touched. */
export function UnreadableCard({ piece, onDelete }: UnreadableCardProps) {
  return (
    <article className={classes.card}>
      <div className={classes.unreadable}>
        <IconAlertTriangle size={22} aria-hidden="true" />
        <p>{piece.unreadable}</p>
        <div>
          <Button
            component="a"
            href={recipeFileUrl(piece.id)}
            download
            size="compact-sm"
            variant="default"
            leftSection={<IconDownload size={15} />}
          >
            Save its recipe
          </Button>
          <Button
            size="compact-sm"
            variant="subtle"
            color="koi"
            leftSection={<IconTrash size={15} />}
            onClick={onDelete}
          >
            Delete
          </Button>
        </div>
      </div>
      <div className={classes.caption}>
        <h3>{piece.name}</h3>
      </div>
      <p className={classes.facts}>cannot be opened here</p>
    </article>
  );
}
