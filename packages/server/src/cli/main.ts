import { endWhenNobodyReads } from '../closed-pipe.js';
import { readAhead, stopReadingAhead } from '../decoder/index.js';
import { wholeVideoOf } from './whole-video.js';

const args = process.argv.slice(2);
endWhenNobodyReads();

// A decoder takes as long to start as the engine takes to load, so both are done at once.
const video = wholeVideoOf(args);
if (video !== null) readAhead(video);
try {
  const { render } = await import('./render.js');
  process.exitCode = await render(args);
} finally {
  stopReadingAhead();
}
