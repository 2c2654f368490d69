import { notifications } from '@mantine/notifications';

/** Something went wrong: what, and what to do. Stays until it is read. */
export function tellProblem(error: unknown): void {
  notifications.show({
    color: 'koi',
    autoClose: 12_000,
    title: 'That did not work',
    message: error instanceof Error ? error.message : String(error),
  });
}
