/** Why the server cannot be started: one line for a person. */
export class StartRefusal extends Error {
  override readonly name = 'StartRefusal';
}
