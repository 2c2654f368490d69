import classes from './ui.module.css';

/** A key's name, as a key. */
export function Key({ children }: { children: string }) {
  return <kbd className={classes.key}>{children}</kbd>;
}
