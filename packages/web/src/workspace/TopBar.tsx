import { ActionIcon, Button, Popover, TextInput, Tooltip } from '@mantine/core';
import { IconArrowBackUp, IconArrowForwardUp, IconKeyboard } from '@tabler/icons-react';
import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { useStore } from 'zustand';
import { useWorkspace } from '../piece/workspace-context.js';
import { Mark } from '../ui/Mark.js';
import { saveRecipeFile } from '../ui/save-recipe-file.js';
import { openConflict } from './conflict.js';
import { showKeys } from './key-list.js';
import classes from './workspace.module.css';

export function TopBar({ children }: { children: ReactNode }) {
  const { store } = useWorkspace();
  const undoSteps = useStore(store.temporal, (state) => state.pastStates.length);
  const redoSteps = useStore(store.temporal, (state) => state.futureStates.length);
  const { undo, redo } = store.temporal.getState();
  return (
    <header className={classes.top}>
      <div className={classes.topLeft}>
        <Link to="/" className={classes.home} aria-label="Muted Pond: back to the shelf">
          <Mark />
        </Link>
        <PieceTitle />
      </div>
      {children}
      <div className={classes.topRight}>
        <SaveNote />
        <Tooltip label={undoSteps === 0 ? 'Nothing to undo' : 'Undo (Ctrl Z)'}>
          <ActionIcon
            variant="subtle"
            color="deep"
            aria-label="Undo"
            data-disabled={undoSteps === 0 || undefined}
            aria-disabled={undoSteps === 0 || undefined}
            onClick={() => undoSteps > 0 && undo()}
          >
            <IconArrowBackUp size={19} />
          </ActionIcon>
        </Tooltip>
        <Tooltip label={redoSteps === 0 ? 'Nothing to redo' : 'Redo (Ctrl Shift Z)'}>
          <ActionIcon
            variant="subtle"
            color="deep"
            aria-label="Redo"
            data-disabled={redoSteps === 0 || undefined}
            aria-disabled={redoSteps === 0 || undefined}
            onClick={() => redoSteps > 0 && redo()}
          >
            <IconArrowForwardUp size={19} />
          </ActionIcon>
        </Tooltip>
        <Tooltip label="Keys (?)">
          <ActionIcon variant="subtle" color="deep" aria-label="Show all keys" onClick={showKeys}>
            <IconKeyboard size={19} />
          </ActionIcon>
        </Tooltip>
      </div>
    </header>
  );
}

function PieceTitle() {
  const { store } = useWorkspace();
  const name = useStore(store, (state) => state.name);
  const [renaming, setRenaming] = useState(false);
  if (!renaming) {
    return (
      <button type="button" className={classes.title} title="Rename" onClick={() => setRenaming(true)}>
        {name}
      </button>
    );
  }
  return (
    <TextInput
      autoFocus
      size="xs"
      aria-label="Name of the piece"
      defaultValue={name}
      onFocus={(event) => event.currentTarget.select()}
      onBlur={(event) => {
        store.getState().rename(event.currentTarget.value);
        setRenaming(false);
      }}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') setRenaming(false);
      }}
    />
  );
}

/** What went wrong with saving, and the ways out: again, or the recipe as a file. */
function NotSaved({ message, again }: { message: string; again: boolean }) {
  const { autosave, store } = useWorkspace();
  return (
    <Popover position="bottom-end" width={320} withArrow shadow="md" defaultOpened={!again}>
      <Popover.Target>
        <button type="button" className={`${classes.title} ${classes.notSaved}`}>
          {again ? 'Not saved, trying again' : 'Not saved'}
        </button>
      </Popover.Target>
      <Popover.Dropdown>
        <p className={classes.notSavedWords} role="alert">
          {message}
        </p>
        <div className={classes.notSavedTools}>
          <Button size="compact-sm" color="deep.8" onClick={() => autosave.tryAgain()}>
            Try again now
          </Button>
          <Button
            size="compact-sm"
            variant="default"
            onClick={() => {
              const { name, recipe } = store.getState();
              saveRecipeFile(name, recipe);
            }}
          >
            Save the recipe as a file
          </Button>
        </div>
      </Popover.Dropdown>
    </Popover>
  );
}

function SaveNote() {
  const workspace = useWorkspace();
  const { autosave } = workspace;
  const state = useStore(autosave.state);
  switch (state.type) {
    case 'saved':
      return <span className={classes.saveState}>Saved</span>;
    case 'saving':
      return <span className={classes.saveState}>Saving…</span>;
    case 'failed':
      return <NotSaved message={state.message} again={state.again} />;
    case 'conflict':
      return (
        <button
          type="button"
          className={`${classes.title} ${classes.notSaved}`}
          onClick={() => openConflict(workspace, state.theirs)}
        >
          Changed elsewhere: choose
        </button>
      );
  }
}
