import { isMainThread } from 'node:worker_threads';
import { runFfmpeg } from '../src/ffmpeg/index.js';
import { startThread } from '../src/processes/index.js';

/**
 * A program that starts an encoder which would go on for hours: by itself, or where it is told to, in a thread
 * that it ends on any message. The encoder's command line holds MARK.
 */
const inThread = process.env.IN_THREAD === 'yes' && isMainThread;
if (inThread) {
  const thread = startThread(new URL(import.meta.url));
  process.on('message', () => void thread.terminate());
} else {
  const args = [
    ...['-v', 'error', '-nostdin', '-y', '-f', 'lavfi', '-i', 'testsrc2=s=320x180:r=1:d=36000'],
    ...['-vf', 'realtime', '-metadata', `comment=${process.env.MARK}`, '-f', 'null', '/dev/null'],
  ];
  runFfmpeg('ffmpeg', args, 3_600_000).stdout.resume();
}
