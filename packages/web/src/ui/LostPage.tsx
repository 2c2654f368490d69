import { Button } from '@mantine/core';
import { Link, useRouteError } from 'react-router';
import classes from './LostPage.module.css';
import { Rings } from './Mark.js';
import { sentenceOf } from './sentence.js';

/** Shown for an address that leads nowhere, and when a screen fails. */
export function LostPage({ message }: { message?: string }) {
  const error = useRouteError();
  const said = message ?? (error ? sentenceOf(error) : null);
  return (
    <main className={classes.page}>
      <Rings width={120} />
      <h1>Nothing here but water</h1>
      <p>{said ?? 'This address leads nowhere.'}</p>
      <Button component={Link} to="/" color="deep.8">
        Back to the shelf
      </Button>
    </main>
  );
}
