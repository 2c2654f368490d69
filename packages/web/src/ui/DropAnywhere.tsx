import { Dropzone } from '@mantine/dropzone';
import { useWindowEvent } from '@mantine/hooks';
import classes from './DropAnywhere.module.css';
import { Rings } from './Mark.js';

interface DropAnywhereProps {
  readonly label: string;
  readonly words: string;
  readonly onFiles: (files: File[]) => void;
}

/** Files dropped anywhere on the page, or pasted. */
export function DropAnywhere({ label, words, onFiles }: DropAnywhereProps) {
  useWindowEvent('paste', (event) => {
    const files = [...(event.clipboardData?.files ?? [])];
    if (files.length > 0) onFiles(files);
  });
  return (
    <Dropzone.FullScreen active aria-label={label} onDrop={onFiles} classNames={{ inner: classes.inner }}>
      <div className={classes.everywhere}>
        <Rings width={160} />
        <h2>{words}</h2>
      </div>
    </Dropzone.FullScreen>
  );
}
