import { Button } from '@mantine/core';
import { IconAlertTriangle } from '@tabler/icons-react';
import { useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { bringBack, useHealth } from '../api/queries.js';
import { tellDone, tellProblem } from '../ui/notify.js';
import classes from './shelf.module.css';

/** What is missing around the application, and what can be done about it. Nothing where nothing is. */
export function HealthNotes() {
  const health = useHealth().data;
  if (!health) return null;
  return (
    <>
      {!health.decoder && (
        <HealthNote>
          <span>
            <strong>ffmpeg is not installed, so no video can be opened.</strong> Install it (Debian: apt-get
            install ffmpeg) and start Muted Pond again; pictures and GIFs work meanwhile.
          </span>
        </HealthNote>
      )}
      {health.unknownFiles > 0 && <UnknownFiles count={health.unknownFiles} />}
    </>
  );
}

function HealthNote({ children }: { children: ReactNode }) {
  return (
    <div className={classes.healthNote} role="status">
      <IconAlertTriangle size={18} aria-hidden="true" />
      {children}
    </div>
  );
}

/** The database is lost, the files are not. */
function UnknownFiles({ count }: { count: number }) {
  const client = useQueryClient();
  const [busy, setBusy] = useState(false);
  const bring = async () => {
    setBusy(true);
    try {
      const { brought } = await bringBack();
      tellDone(`${brought} ${brought === 1 ? 'file is' : 'files are'} back under Footage`);
      await client.invalidateQueries();
    } catch (error) {
      tellProblem(error);
    } finally {
      setBusy(false);
    }
  };
  return (
    <HealthNote>
      <span>
        <strong>The database is empty, but {count} files are kept beside it.</strong> They can be brought back
        into the library; recipes come back from a backup only (npm run restore).
      </span>
      <Button size="compact-sm" color="deep.8" loading={busy} onClick={() => void bring()}>
        Bring them back
      </Button>
    </HealthNote>
  );
}
