import { notifications } from '@mantine/notifications';
import { replaceSource } from '@muted-pond/core/recipe';
import { bringIn } from '../../shelf/uploads-store.js';
import { tellProblem } from '../../ui/notify.js';
import { sourceFileOf } from '../../workspace/piece-take.js';
import type { Workspace } from '../../workspace/workspace-context.js';

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
        new Error(
          `“${to.view.name}” is ${to.view.kind === 'picture' ? 'a picture' : 'footage'}, “${from.view.name}” is not. It is in the library; make a piece of its own from it.`,
        ),
      );
      return;
    }
    store.getState().change((recipe) => replaceSource(recipe, sourceFileOf(from), sourceFileOf(to)));
    session.getState().seek(store.getState().recipe.span.start);
    session.getState().showStrip(null);
    notifications.show({
      title: `“${to.view.name}” is in its place`,
      message: 'Span and crop were carried over. Undo brings the old file back.',
    });
  } catch (error) {
    tellProblem(error);
  }
}
