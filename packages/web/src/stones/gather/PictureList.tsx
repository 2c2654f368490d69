import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  arrayMove,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { ActionIcon, FileButton, Menu } from '@mantine/core';
import type { StillsSource } from '@muted-pond/core/recipe';
import { IconCheck, IconDots, IconGripVertical, IconReplace, IconTrash } from '@tabler/icons-react';
import { useStore } from 'zustand';
import { smallUrl } from '../../api/frame-urls.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { PICTURE_FILES } from '../../shelf/file-kinds.js';
import { FIT_LABELS } from './fit-labels.js';
import classes from './gather.module.css';
import { replaceFile } from './replace-file.js';
import { editPicture, setPictures } from './stills-edits.js';

/** The pictures in their order: drag to reorder, click to see one, and a rule of its own for each. */
export function PictureList({ source }: { source: StillsSource }) {
  const { store } = useWorkspace();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  // The same picture may stand there twice, so places are told apart by what comes before.
  const ids = source.pictures.map(
    (picture, i) =>
      `${picture.hash}.${source.pictures.slice(0, i).filter((other) => other.hash === picture.hash).length}`,
  );

  function drop({ active, over }: DragEndEvent): void {
    if (!over || active.id === over.id) return;
    const [from, to] = [ids.indexOf(String(active.id)), ids.indexOf(String(over.id))];
    store.getState().change((recipe) => setPictures(recipe, arrayMove([...source.pictures], from, to)));
  }

  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        <ol className={classes.pictures} aria-label="Pictures in their order">
          {ids.map((id, index) => (
            <PictureRow key={id} id={id} index={index} source={source} />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

function PictureRow({ id, index, source }: { id: string; index: number; source: StillsSource }) {
  const workspace = useWorkspace();
  const { store, session, files } = workspace;
  const picture = source.pictures[index];
  const view = useStore(files, (state) => state.files.get(picture.hash)?.view);
  const isShown = useStore(session, (state) => state.playhead === index);
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id });
  const show = () => {
    session.getState().setPlaying(false);
    session.getState().seek(index);
  };
  const ownFit = FIT_LABELS.find((rule) => rule.value === picture.fit);
  return (
    <li
      ref={setNodeRef}
      className={classes.picture}
      data-shown={isShown || undefined}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      <button
        type="button"
        className={classes.grip}
        aria-label={`Move ${view?.name}`}
        {...attributes}
        {...listeners}
      >
        <IconGripVertical size={15} />
      </button>
      <button type="button" className={classes.pictureShow} onClick={show}>
        <img src={smallUrl(picture.hash, 0)} alt="" draggable={false} />
        <span>
          <strong>{view?.name}</strong>
          {view?.width} × {view?.height}
          {ownFit && ` · ${ownFit.label.toLowerCase()}`}
        </span>
      </button>
      <Menu position="bottom-end" withinPortal>
        <Menu.Target>
          <ActionIcon variant="subtle" color="deep" aria-label={`More for ${view?.name}`}>
            <IconDots size={16} />
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Label>Its own rule</Menu.Label>
          <Menu.Item
            leftSection={
              picture.fit === null ? <IconCheck size={14} /> : <span className={classes.noCheck} />
            }
            onClick={() => store.getState().change((recipe) => editPicture(recipe, index, { fit: null }))}
          >
            As all
          </Menu.Item>
          {FIT_LABELS.map(({ value, label }) => (
            <Menu.Item
              key={value}
              leftSection={
                picture.fit === value ? <IconCheck size={14} /> : <span className={classes.noCheck} />
              }
              onClick={() => {
                show();
                store.getState().change((recipe) => editPicture(recipe, index, { fit: value }));
              }}
            >
              {label}
            </Menu.Item>
          ))}
          <Menu.Divider />
          <FileButton
            accept={PICTURE_FILES}
            onChange={(file) => file && void replaceFile(workspace, picture.hash, file)}
          >
            {(props) => (
              <Menu.Item {...props} closeMenuOnClick={false} leftSection={<IconReplace size={14} />}>
                Put a better version in its place
              </Menu.Item>
            )}
          </FileButton>
          <Menu.Item
            color="koi"
            leftSection={<IconTrash size={14} />}
            disabled={source.pictures.length === 1}
            onClick={() =>
              store.getState().change((recipe) =>
                setPictures(
                  recipe,
                  source.pictures.filter((_, i) => i !== index),
                ),
              )
            }
          >
            Take out
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </li>
  );
}
