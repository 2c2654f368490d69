/** What everyone is told of something that takes long: being worked on, or what came of it. */
export interface JobView {
  readonly piece: string;
  /** Of its result: the same key is the same result. */
  readonly key: string;
  readonly state: 'working' | 'done' | 'failed';
  /** 0–1 */
  readonly done: number;
  /** Why there is no result, and what would help. */
  readonly problem: string | null;
}
