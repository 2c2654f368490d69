import { Button, ColorInput, FileButton, Menu, SegmentedControl } from '@mantine/core';
import { UserError } from '@muted-pond/core/errors';
import type { Fit, Matte } from '@muted-pond/core/pixels';
import {
  canvasFor,
  newStillPicture,
  RECIPE_LIMITS,
  type Recipe,
  type StillsSource,
} from '@muted-pond/core/recipe';
import { IconPlus } from '@tabler/icons-react';
import { useStore } from 'zustand';
import { useLimits } from '../../api/limits.js';
import { useWorkspace } from '../../piece/workspace-context.js';
import { PICTURE_FILES } from '../../shelf/file-kinds.js';
import { bringIn } from '../../shelf/uploads-store.js';
import { BankHead, BankSection } from '../../ui/Bank.js';
import { DropAnywhere } from '../../ui/DropAnywhere.js';
import { formatBytes } from '../../ui/format.js';
import { NumberEntry } from '../../ui/NumberEntry.js';
import { byName } from '../../ui/natural-order.js';
import { tellProblem } from '../../ui/notify.js';
import { FIT_LABELS } from './fit-labels.js';
import classes from './gather.module.css';
import { kindName } from './kind-names.js';
import { PictureList } from './PictureList.js';
import { editStills, setCanvas, setPictures } from './stills-edits.js';

/** The pictures, their order, and the canvas they share. */
export function StillsBank({ source }: { source: StillsSource }) {
  const workspace = useWorkspace();
  const { store, files } = workspace;
  const limits = useLimits();
  const known = useStore(files, (state) => state.files);
  const change = (edit: (recipe: Recipe) => Recipe) => store.getState().change(edit);
  const set = (part: Partial<StillsSource>) =>
    change((recipe) => editStills(recipe, (old) => ({ ...old, ...part })));
  const sizes = source.pictures.flatMap((picture) => known.get(picture.hash)?.view ?? []);
  const nameOf = (hash: string) => known.get(hash)?.view.name ?? '';

  async function add(chosen: File[]): Promise<void> {
    const brought = await Promise.all(byName(chosen, (file) => file.name).map((file) => bringIn(file)));
    const pictures = brought.flatMap((view) => (view?.kind === 'picture' ? [view] : []));
    for (const view of brought) {
      if (view && view.kind !== 'picture') {
        tellProblem(
          new UserError(
            'request_refused',
            `“${view.name}” is not a picture. It is in the library; make a piece of its own from it.`,
          ),
        );
      }
    }
    if (pictures.length === 0) return;
    try {
      await files.ensure(pictures.map((view) => view.id));
      change((recipe) =>
        setPictures(recipe, [...source.pictures, ...pictures.map((view) => newStillPicture(view.id))]),
      );
    } catch (error) {
      tellProblem(error);
    }
  }

  return (
    <>
      <BankHead title="Gather" about="Pictures as frames: their order, and one canvas for all." />
      <BankSection title={source.pictures.length === 1 ? '1 picture' : `${source.pictures.length} pictures`}>
        <PictureList source={source} />
        <div className={classes.listButtons}>
          <FileButton multiple accept={PICTURE_FILES} onChange={(chosen) => void add(chosen)}>
            {(props) => (
              <Button {...props} size="compact-sm" variant="default" leftSection={<IconPlus size={14} />}>
                Add
              </Button>
            )}
          </FileButton>
          <Button
            size="compact-sm"
            variant="default"
            onClick={() =>
              change((recipe) =>
                setPictures(
                  recipe,
                  byName(source.pictures, (picture) => nameOf(picture.hash)),
                ),
              )
            }
          >
            By name
          </Button>
          <Button
            size="compact-sm"
            variant="default"
            onClick={() => change((recipe) => setPictures(recipe, source.pictures.toReversed()))}
          >
            Reversed
          </Button>
        </div>
        <div className={classes.row}>
          <span>Each for</span>
          <NumberEntry
            label="Each picture for, seconds"
            value={source.delayCs / 100}
            decimals={2}
            suffix=" s"
            min={RECIPE_LIMITS.delayCs.min / 100}
            max={RECIPE_LIMITS.delayCs.max / 100}
            onEnter={(seconds) => set({ delayCs: Math.round(seconds * 100) })}
          />
        </div>
      </BankSection>
      <BankSection title="Canvas">
        <div className={classes.canvas}>
          <NumberEntry
            label="Canvas width"
            value={source.canvas.width}
            {...RECIPE_LIMITS.side}
            onEnter={(width) => change((recipe) => setCanvas(recipe, { ...source.canvas, width }))}
          />
          <span>×</span>
          <NumberEntry
            label="Canvas height"
            value={source.canvas.height}
            {...RECIPE_LIMITS.side}
            onEnter={(height) => change((recipe) => setCanvas(recipe, { ...source.canvas, height }))}
          />
          <Menu position="bottom-end" withinPortal>
            <Menu.Target>
              <Button size="compact-sm" variant="default">
                Take from…
              </Button>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Item onClick={() => change((recipe) => setCanvas(recipe, canvasFor(sizes)))}>
                The largest picture
              </Menu.Item>
              {limits.map(({ id, name, width, height }) => {
                const shape = {
                  width,
                  height: height ?? Math.round((width * source.canvas.height) / source.canvas.width),
                };
                return (
                  <Menu.Item key={id} onClick={() => change((recipe) => setCanvas(recipe, shape))}>
                    {name} · {shape.width} × {shape.height}
                  </Menu.Item>
                );
              })}
            </Menu.Dropdown>
          </Menu>
        </div>
        <SegmentedControl
          fullWidth
          size="xs"
          mt={8}
          aria-label="How pictures take their place"
          value={source.fit}
          onChange={(fit) => set({ fit: fit as Fit })}
          data={FIT_LABELS}
        />
        <div className={classes.row}>
          <span>Matte</span>
          <ColorInput
            size="xs"
            w={128}
            aria-label="Matte colour"
            disabled={source.matte === 'transparent'}
            value={source.matte === 'transparent' ? '' : source.matte}
            placeholder="see-through"
            onChangeEnd={(colour) => /^#[0-9a-f]{6}$/.test(colour) && set({ matte: colour as Matte })}
          />
        </div>
        <label className={classes.row}>
          <span>Leave it see-through</span>
          <input
            type="checkbox"
            checked={source.matte === 'transparent'}
            onChange={(event) => set({ matte: event.currentTarget.checked ? 'transparent' : '#ffffff' })}
          />
        </label>
      </BankSection>
      <ShownPicture source={source} />
      <DropAnywhere
        words="Let go to add them"
        label="Drop pictures here"
        onFiles={(dropped) => void add(dropped)}
      />
    </>
  );
}

/** What was done to show the picture on the stage right. */
function ShownPicture({ source }: { source: StillsSource }) {
  const { session, files } = useWorkspace();
  const hash = useStore(
    session,
    (state) => source.pictures[Math.min(state.playhead, source.pictures.length - 1)].hash,
  );
  const view = useStore(files, (state) => state.files.get(hash)?.view);
  if (!view) return null;
  return (
    <BankSection title={view.name}>
      <ul className={classes.notes}>
        <li>
          {view.width} × {view.height} px, {kindName(view)}, {formatBytes(view.bytes)}
        </li>
        {view.notes.map((note) => (
          <li key={note}>{note}</li>
        ))}
      </ul>
    </BankSection>
  );
}
