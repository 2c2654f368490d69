import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { FootageView, PieceView, TrialView } from '../packages/core/src/api/index.js';
import { startServer } from '../tools/server-process.js';
import { percentile, timeProcess } from './measure.js';
import { printTable } from './table.js';

const WANTED_MS = 100;
/** Between two questions, ms. */
const PAUSE_MS = 15;

/**
 * How soon a small resource is answered while the server is busy: an animation of some megabytes is brought
 * in and looked at, video is brought in, frames are asked for, trials are made.
 */
export async function benchLoad(root: string, work: string): Promise<void> {
  const server = await startServer({ demo: false });
  const api = `${server.url}/api`;
  const lantern = join(root, 'demo/footage/lantern.mp4');
  const gif = join(work, 'large.gif');
  const large = join(work, 'large.mp4');
  const looped = ['-v', 'error', '-y', '-stream_loop', '-1', '-i', lantern];
  await timeProcess('ffmpeg', [...looped, '-t', '16', '-vf', 'fps=20,scale=960:-2', gif]);
  await timeProcess('ffmpeg', [
    ...looped,
    ...['-t', '20', '-vf', 'scale=1920:1080', '-c:v', 'libx264', '-preset', 'ultrafast', large],
  ]);
  const upload = async (path: string) => {
    const response = await fetch(`${api}/footage?name=${encodeURIComponent(path.split('/').at(-1) ?? '')}`, {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream' },
      body: readFileSync(path),
    });
    return (await response.json()) as FootageView;
  };
  const post = async <T>(path: string, body: unknown): Promise<T> => {
    const response = await fetch(`${api}/${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
    return (await response.json()) as T;
  };
  const trial = async (footage: FootageView, width: number) => {
    const piece = await post<PieceView>('pieces', { footage: footage.id });
    const recipe = { ...piece.recipe, weigh: { ...piece.recipe.weigh, width } };
    const { id } = await post<TrialView>(`pieces/${piece.id}/trials`, { recipe });
    for (;;) {
      const all = (await (await fetch(`${api}/pieces/${piece.id}/trials`)).json()) as TrialView[];
      if (!['waiting', 'working'].includes(all.find((one) => one.id === id)?.state ?? '')) return;
      await new Promise((resolve) => setTimeout(resolve, 200));
    }
  };
  const times: number[] = [];
  let isBusy = true;
  const asking = (async () => {
    while (isBusy) {
      const from = performance.now();
      await (await fetch(`${api}/limits`)).arrayBuffer();
      times.push(performance.now() - from);
      await new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
    }
  })();
  try {
    const [animation, video] = await Promise.all([upload(gif), upload(large)]);
    const frames = async (file: FootageView) => {
      for (let i = 0; i < 40; i++) {
        const frame = (i * 37) % file.frameCount;
        await (await fetch(`${api}/footage/${file.id}/frames/${frame}`)).arrayBuffer();
      }
      await (await fetch(`${api}/footage/${file.id}/full/${file.frameCount >> 1}`)).arrayBuffer();
      await (await fetch(`${api}/footage/${file.id}/motion?from=0&to=60`)).arrayBuffer();
    };
    await Promise.all([frames(animation), frames(video), trial(animation, 480), trial(video, 640)]);
  } finally {
    isBusy = false;
    await asking;
    await server.stop();
  }
  const p99 = percentile(times, 0.99);
  printTable('while files are brought in, read and made', [
    {
      what: `a small GET, p99 of ${times.length} (median ${percentile(times, 0.5).toFixed(1)} ms)`,
      figure: `${p99.toFixed(0)} ms, longest ${Math.max(...times).toFixed(0)} ms`,
      wanted: `≤ ${WANTED_MS} ms`,
      reached: p99 <= WANTED_MS,
    },
  ]);
}
