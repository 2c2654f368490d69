import { describe, expect, it } from 'vitest';
import { SeamClient, type SeamWorker } from './seam-client.js';
import type { SeamMessage, SeamReply } from './seam-work.js';

const footage = { type: 'footage' } as Extract<SeamMessage, { type: 'footage' }>;
const question = (id: number) => ({ type: 'question', id }) as Extract<SeamMessage, { type: 'question' }>;
const common = { type: 'common-round' } as Extract<SeamMessage, { type: 'common-round' }>;

function open() {
  const workers: (SeamWorker & { told: string[]; ended: boolean })[] = [];
  const answers: number[] = [];
  let failures = 0;
  const client = new SeamClient(footage, {
    open() {
      const worker: (typeof workers)[number] = {
        ...{ told: [], ended: false, onmessage: null, onerror: null },
        postMessage: (message: SeamMessage) =>
          void worker.told.push(message.type === 'question' ? `question ${message.id}` : message.type),
        terminate: () => {
          worker.ended = true;
        },
      };
      workers.push(worker);
      return worker;
    },
    answered: (part) => void (part.type === 'measured' && answers.push(part.id)),
    failed: () => failures++,
  });
  const last = () => workers[workers.length - 1];
  const reply = (data: SeamReply) => last().onmessage?.({ data } as MessageEvent<SeamReply>);
  return {
    client,
    workers,
    answers,
    failures: () => failures,
    find: (id: number) => reply({ type: 'found', found: { id } } as unknown as SeamReply),
    answer: (id: number) => reply({ type: 'measured', id, measured: { seam: null, own: [] } }),
    unmeasured: (id: number) => reply({ type: 'unmeasured', id, problem: 'It is gone.' }),
    found: () => reply({ type: 'common-round', found: { frames: 7, rounds: [] }, problem: null }),
    notFound: () => reply({ type: 'common-round', found: null, problem: 'It is gone.' }),
    crash: () => last().onerror?.({ message: 'out of memory' } as ErrorEvent),
  };
}

describe('a question about seams', () => {
  it('is answered once its joint is measured, or cannot be', () => {
    const { client, find, answer, unmeasured } = open();
    client.ask(question(1));
    find(1);
    expect(client.isBusy).toBe(true);
    answer(1);
    expect(client.isBusy).toBe(false);
    client.ask(question(2));
    unmeasured(2);
    expect(client.isBusy).toBe(false);
  });

  it('about rounds fails with its sentence', async () => {
    const { client, notFound } = open();
    const asked = client.commonRound(common);
    notFound();
    await expect(asked).rejects.toThrow('It is gone.');
  });
});

describe('a seam worker that crashes', () => {
  it('is started anew, told of the footage, and asked what it had not answered', () => {
    const { client, workers, answers, answer, crash } = open();
    client.ask(question(1));
    answer(1);
    client.ask(question(2));
    crash();
    expect(workers[0].ended).toBe(true);
    expect(workers[1].told).toEqual(['footage', 'question 2']);
    expect(client.isBusy).toBe(true);
    answer(2);
    expect([answers, client.isBusy]).toEqual([[1, 2], false]);
  });

  it('again and again is told, not started for ever; the next question tries once more', () => {
    const { client, workers, failures, answers, answer, crash } = open();
    client.ask(question(1));
    for (let i = 0; i < 3; i++) crash();
    expect([workers.length, failures(), client.isBusy]).toEqual([3, 1, false]);
    client.ask(question(2));
    expect(workers).toHaveLength(4);
    answer(2);
    expect(answers).toEqual([2]);
  });

  it('now and then is not taken for one that always does', () => {
    const { client, failures, answer, crash } = open();
    for (let id = 1; id <= 9; id++) {
      client.ask(question(id));
      crash();
      answer(id);
    }
    expect(failures()).toBe(0);
  });

  it('answers who waits for rounds: after a crash, or with the reason why not', async () => {
    const { client, found, crash } = open();
    const first = client.commonRound(common);
    crash();
    found();
    expect(await first).toMatchObject({ frames: 7 });
    const second = client.commonRound(common);
    for (let i = 0; i < 3; i++) crash();
    await expect(second).rejects.toThrow('ended again and again');
    const third = client.commonRound(common);
    client.end();
    await expect(third).rejects.toThrow('was changed while');
  });
});
