import { notifications } from '@mantine/notifications';
import { UserError } from '@muted-pond/core/errors';
import { retarget, type Source } from '@muted-pond/core/recipe';
import { filesOf, sourceFileOf } from '../../piece/piece-take.js';
import type { Workspace } from '../../piece/workspace-context.js';
import { bringIn } from '../../shelf/uploads-store.js';
import { tellProblem } from '../../ui/notify.js';

/** Brings a file in and puts it in the place of another one, under the same recipe. */
export async function replaceFile(workspace: Workspace, old: string, file: File): Promise<void> {
  const { store, files, session } = workspace;
  const better = await bringIn(file);
  if (!better || better.id === old) return;
  try {
    await files.ensure([better.id]);
    const known = files.getState().files;
    const [from, to] = [known.get(old), known.get(better.id)];
    if (!from || !to) return;
    if ((from.view.kind === 'picture') !== (to.view.kind === 'picture')) {
      tellProblem(
        new UserError(
          'request_refused',
          `“${to.view.name}” is ${to.view.kind === 'picture' ? 'a picture' : 'footage'}, “${from.view.name}” is not. It is in the library; make a piece of its own from it.`,
        ),
      );
      return;
    }
    const { recipe } = store.getState();
    const filesNow = filesOf(recipe, known);
    const sources = recipe.sources.map((source) => withHash(source, old, better.id));
    const others = filesNow.filter((other) => other.hash !== old);
    const laid = retarget(
      { recipe, files: filesNow },
      { recipe: { ...recipe, sources }, files: [...others, sourceFileOf(to)] },
    );
    store.getState().change(() => laid.recipe);
    session.getState().seek(store.getState().recipe.span.start);
    session.getState().showStrip(null);
    notifications.show({
      title: `“${to.view.name}” is in its place`,
      message: [
        ...laid.notes.map(({ words }) => words),
        'All other settings are as they were. Undo brings the old file back.',
      ].join(' '),
    });
  } catch (error) {
    tellProblem(error);
  }
}

/** The source with one of its files in the place of another. */
function withHash(source: Source, old: string, hash: string): Source {
  const changed = <Named extends { readonly hash: string }>(one: Named): Named =>
    one.hash === old ? { ...one, hash } : one;
  if (source.kind === 'footage') return changed(source);
  return { ...source, pictures: source.pictures.map(changed) };
}
