import { Popover } from '@mantine/core';
import type { ReactNode } from 'react';
import classes from './ui.module.css';

/** Says beside a field why what stands there is not taken. */
export function TypedProblem({ sentence, children }: { sentence: string | null; children: ReactNode }) {
  return (
    <Popover
      withRoles={false}
      opened={sentence !== null}
      position="bottom-end"
      withArrow
      shadow="md"
      trapFocus={false}
      withinPortal
      hideDetached={false}
    >
      <Popover.Target>
        <div>{children}</div>
      </Popover.Target>
      <Popover.Dropdown className={classes.typedProblem}>
        <span role="alert">{sentence}</span>
      </Popover.Dropdown>
    </Popover>
  );
}
