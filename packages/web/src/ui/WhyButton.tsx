import { Button, type ButtonProps, Tooltip, VisuallyHidden } from '@mantine/core';
import { type ReactNode, useId } from 'react';

interface WhyButtonProps extends Omit<ButtonProps, 'disabled'> {
  /** Why it does nothing now and what to do about it; null while it does. */
  readonly off: string | null;
  /** The reason stands beside it for all to see. */
  readonly isTold?: boolean;
  /** What it does, where its name does not say it all. */
  readonly title?: string;
  readonly onClick: () => void;
  readonly children: ReactNode;
}

/** A button that says why it is off: under the pointer, with the focus, and to who hears the page. */
export function WhyButton({ off, isTold = false, title, onClick, ...rest }: WhyButtonProps) {
  const id = useId();
  const isOff = off !== null;
  return (
    <>
      <Tooltip
        label={off}
        disabled={!isOff || isTold}
        multiline
        maw={280}
        events={{ hover: true, focus: true, touch: true }}
      >
        <Button
          {...rest}
          title={isOff ? undefined : title}
          // It stays in the order of the focus, or nobody could find out why.
          data-disabled={isOff || undefined}
          aria-disabled={isOff || undefined}
          aria-describedby={isOff ? id : undefined}
          onClick={(event) => (isOff ? event.preventDefault() : onClick())}
        />
      </Tooltip>
      {isOff && <VisuallyHidden id={id}>{off}</VisuallyHidden>}
    </>
  );
}
