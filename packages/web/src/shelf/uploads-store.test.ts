import type { FootageView } from '@muted-pond/core/api';
import { UserError } from '@muted-pond/core/errors';
import { describe, expect, it } from 'vitest';
import { bringIn, dismissUpload, uploadsStore } from './uploads-store.js';

/** Sends that end when they are told to. */
function sending() {
  const sent: string[] = [];
  const ends = new Map<string, (view: FootageView) => void>();
  const send = (file: File) => {
    sent.push(file.name);
    return new Promise<FootageView>((resolve) => ends.set(file.name, resolve));
  };
  const end = (name: string) => ends.get(name)?.({ id: name } as FootageView);
  return { sent, send, end };
}

const file = (name: string) => new File(['x'], name);
const idOf = (name: string) =>
  uploadsStore.getState().uploads.find((upload) => upload.name === name)?.id ?? 0;

describe('files on their way in', () => {
  it('one that is dismissed while it waits is never sent, and the next one gets its place', async () => {
    const { sent, send, end } = sending();
    const names = ['a', 'b', 'c', 'dismissed', 'e'];
    const brought = names.map((name) => bringIn(file(name), send));
    await Promise.resolve();
    expect(sent).toEqual(['a', 'b', 'c']);
    dismissUpload(idOf('dismissed'));
    for (const name of ['a', 'b', 'c']) end(name);
    await expect.poll(() => sent).toEqual(['a', 'b', 'c', 'e']);
    end('e');
    expect((await Promise.all(brought)).map((view) => view?.id ?? null)).toEqual(['a', 'b', 'c', null, 'e']);
    expect(uploadsStore.getState().uploads).toEqual([]);
  });

  it('one that is refused says why in the list until it is dismissed', async () => {
    const refused = bringIn(file('bad'), () =>
      Promise.reject(new UserError('empty_file', '“bad” is empty.')),
    );
    expect(await refused).toBeNull();
    expect(uploadsStore.getState().uploads).toMatchObject([{ name: 'bad', problem: '“bad” is empty.' }]);
    dismissUpload(idOf('bad'));
    expect(uploadsStore.getState().uploads).toEqual([]);
  });
});
