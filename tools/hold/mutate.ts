import { wholeFrom } from '../../packages/core/src/testing/seeded.js';

/** Some bytes changed, some taken out, some doubled, the end cut off, or another file's bytes put in. */
export function mutate(bytes: Buffer, other: Buffer, random: () => number): Buffer {
  const made = Buffer.from(bytes);
  const at = () => wholeFrom(random, 0, made.length - 1);
  switch (wholeFrom(random, 0, 5)) {
    case 0:
      for (let i = 0; i < 1 + random() * 12; i++) made[at()] = wholeFrom(random, 0, 255);
      return made;
    case 1:
      // Where headers lie.
      for (let i = 0; i < 1 + random() * 6; i++)
        made[wholeFrom(random, 0, Math.min(255, made.length - 1))] = wholeFrom(random, 0, 255);
      return made;
    case 2:
      return made.subarray(0, at());
    case 3: {
      const [from, to] = [at(), at()].sort((a, b) => a - b);
      return Buffer.concat([made.subarray(0, from), made.subarray(to)]);
    }
    case 4: {
      const [from, to] = [at(), at()].sort((a, b) => a - b);
      return Buffer.concat([made.subarray(0, to), made.subarray(from)]);
    }
    default: {
      const from = at();
      const part = other.subarray(0, wholeFrom(random, 1, Math.min(400, other.length)));
      part.copy(made, from, 0, Math.min(part.length, made.length - from));
      return made;
    }
  }
}
