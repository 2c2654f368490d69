/** What is told by two ways: as the answer to a request, and as an event. Either may arrive first. */
export interface ToldView {
  /** Grows with each telling, also over a restart of the server: of two views of one thing the larger is the newer. */
  readonly revision: number;
}

/** What everyone is told of something that takes long: being worked on, or what came of it. */
export interface JobView extends ToldView {
  readonly piece: string;
  /** Of its result: the same key is the same result. */
  readonly key: string;
  readonly state: 'working' | 'done' | 'failed';
  /** 0–1 */
  readonly done: number;
  /** Why there is no result, and what would help. */
  readonly problem: string | null;
}
