import { describe, expect, it } from 'vitest';
import { TrialsInProgress, type UnmeasuredFile } from '../src/trials/trials-in-progress.js';

const FILE: UnmeasuredFile = {
  ...{ kind: 'gif', size: { width: 48, height: 20 }, bytes: new Uint8Array(7), mime: 'image/gif' },
};

describe('trials in the making', () => {
  it('tell how far they are, with their file as soon as it is there, until they end', () => {
    const all = new TrialsInProgress();
    expect(all.progressOf('a')).toBeNull();
    const making = all.begin('a', 'trial');
    expect(all.progressOf('a')).toEqual({ done: 0, doing: 'waiting for its turn' });
    making.progress = { done: 0.5, doing: 'drawing' };
    making.file = FILE;
    const file = { kind: 'gif', width: 48, height: 20, bytes: 7 };
    expect(all.progressOf('a')).toEqual({ done: 0.5, doing: 'drawing', file });
    expect(all.unmeasuredFile('a')).toBe(FILE);
    all.end(making);
    expect([all.has('a'), all.progressOf('a'), all.unmeasuredFile('a')]).toEqual([false, null, null]);
  });

  it('are known by their newest making: what an ended one still says or ends is told of nothing', () => {
    const all = new TrialsInProgress();
    const first = all.begin('a', 'trial');
    first.job = 'job 1';
    expect(all.forget('a')).toBe('job 1');
    const second = all.begin('a', 'trial');
    first.progress = { done: 0.9, doing: 'drawing' };
    first.file = FILE;
    all.end(first);
    expect(all.isNewest(second)).toBe(true);
    expect(all.progressOf('a')).toEqual({ done: 0, doing: 'waiting for its turn' });
    expect(all.unmeasuredFile('a')).toBeNull();
  });

  it('that waited through a stop of the server are taken up by their job', () => {
    const all = new TrialsInProgress();
    const making = all.takeUp('a', { job: 'job 1', priority: 'batch' });
    expect(making.job).toBe('job 1');
    expect(all.takeUp('a', { job: 'job 1', priority: 'batch' })).toBe(making);
    expect(all.forget('b')).toBeNull();
  });

  it('wait with their priority until their turn comes', () => {
    const all = new TrialsInProgress();
    all.begin('a', 'batch');
    expect([all.isWaitingAs('batch', 'a'), all.isWaitingAs('trial', 'a')]).toEqual([true, false]);
    all.takeUp('a', { job: 'job 1', priority: 'batch' });
    expect(all.isWaitingAs('batch', 'a')).toBe(false);
    expect(all.isWaitingAs('batch', 'b')).toBe(false);
  });
});
