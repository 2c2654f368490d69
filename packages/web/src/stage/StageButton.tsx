import { ActionIcon, Tooltip } from '@mantine/core';
import type { Icon } from '@tabler/icons-react';
import classes from './stage.module.css';

interface StageButtonProps {
  readonly icon: Icon;
  /** What it does, said to who hears the page and shown beside the pointer. */
  readonly label: string;
  /** The key that does the same. */
  readonly keyName?: string;
  /** Whether what it turns on is on; left out for one that only acts. */
  readonly pressed?: boolean;
  /** The one that is looked for first. */
  readonly primary?: boolean;
  readonly onClick?: () => void;
  /** For what holds only while the hand is down. */
  readonly onHold?: (isHeld: boolean) => void;
}

/** A control on the dark of the stage: an icon, its name, and its key. */
export function StageButton(props: StageButtonProps) {
  const { icon: Picture, label, keyName, pressed, primary = false, onClick, onHold } = props;
  const size = primary ? 34 : 30;
  return (
    <Tooltip label={keyName ? `${label} (${keyName})` : label} openDelay={250}>
      <ActionIcon
        className={primary ? classes.mainButton : classes.stageButton}
        size={size}
        radius="xl"
        variant="transparent"
        aria-label={label}
        aria-pressed={pressed}
        aria-keyshortcuts={keyName}
        onClick={onClick}
        onPointerDown={onHold && ((event) => hold(event, onHold))}
        onPointerUp={onHold && (() => onHold(false))}
        onPointerCancel={onHold && (() => onHold(false))}
      >
        <Picture size={primary ? 18 : 17} stroke={1.8} aria-hidden="true" />
      </ActionIcon>
    </Tooltip>
  );
}

function hold(event: React.PointerEvent<HTMLElement>, onHold: (isHeld: boolean) => void): void {
  event.currentTarget.setPointerCapture(event.pointerId);
  onHold(true);
}
