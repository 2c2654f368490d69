import { Button } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { sentenceOf } from './sentence.js';

/**
 * Something went wrong: what, and what to do. Stays until it is read.
 * @param problem a sentence, or an error.
 */
export function tellProblem(problem: unknown): void {
  notifications.show({
    color: 'koi',
    autoClose: 12_000,
    title: 'That did not work',
    message: typeof problem === 'string' ? problem : sentenceOf(problem),
  });
}

/** Something is done that cannot be seen from here. */
export function tellDone(title: string, message = ''): void {
  notifications.show({ color: 'lily', autoClose: 12_000, title, message });
}

/** Something was taken away, and can be put back. */
export function tellWithUndo(title: string, putBack: () => void): void {
  const id = `undo-${title}`;
  notifications.show({
    id,
    autoClose: 10_000,
    title,
    message: (
      <Button
        size="compact-sm"
        variant="light"
        onClick={() => {
          putBack();
          notifications.hide(id);
        }}
      >
        Put it back
      </Button>
    ),
  });
}
