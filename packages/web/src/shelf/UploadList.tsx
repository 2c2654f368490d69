import { ActionIcon, Progress } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { useStore } from 'zustand';
import classes from './shelf.module.css';
import { dismissUpload, uploadsStore } from './uploads-store.js';

/** Files on their way in, and those that were refused, with the reason. */
export function UploadList() {
  const uploads = useStore(uploadsStore, (state) => state.uploads);
  return (
    <ul className={classes.uploads} aria-live="polite">
      {uploads.map(({ id, name, share, problem }) => (
        <li key={id} className={problem ? classes.refused : classes.upload}>
          {problem ? (
            <span>{problem}</span>
          ) : (
            <>
              <span className={classes.uploadName}>{name}</span>
              <Progress value={share * 100} animated={share >= 1} className={classes.uploadBar} />
              <span className={classes.uploadState}>
                {share < 1 ? `${Math.floor(share * 100)} %` : 'reading its frames'}
              </span>
            </>
          )}
          <ActionIcon
            variant="subtle"
            color="deep"
            aria-label={problem ? 'Dismiss' : `Cancel ${name}`}
            onClick={() => dismissUpload(id)}
          >
            <IconX size={16} />
          </ActionIcon>
        </li>
      ))}
    </ul>
  );
}
