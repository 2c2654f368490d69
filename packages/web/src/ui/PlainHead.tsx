import { Button } from '@mantine/core';
import { IconArrowLeft } from '@tabler/icons-react';
import { Link } from 'react-router';
import { Mark } from './Mark.js';
import classes from './plain-page.module.css';

/** The head of a page beside the shelf, with the way back. */
export function PlainHead() {
  return (
    <header className={classes.head}>
      <Link to="/" className={classes.brand}>
        <Mark /> Muted Pond
      </Link>
      <Button variant="default" component={Link} to="/" leftSection={<IconArrowLeft size={16} />}>
        The shelf
      </Button>
    </header>
  );
}
