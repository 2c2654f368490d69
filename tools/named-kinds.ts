import { parseSync, Visitor } from 'oxc-parser';

/** Things of which there are several kinds, each with an id. What differs between kinds stands on the kind. */
interface Family {
  readonly name: string;
  readonly ids: readonly string[];
  /** Folders and files, from the root, that know the single kinds. */
  readonly within: readonly string[];
  /** Ids that are also other words: they count only as the value of a `kind`. */
  readonly alsoWords?: readonly string[];
}

const FAMILIES: readonly Family[] = [
  {
    name: 'kinds of file',
    ids: ['gif', 'webp', 'apng', 'avif', 'mp4', 'webm', 'poster', 'frames'],
    alsoWords: ['frames'],
    within: [
      'packages/core/src/files/',
      'packages/server/src/making/kinds/',
      'packages/server/src/encoding/',
      'packages/web/src/stones/weigh/kinds/',
      // Formats of what is brought have names of their own, some of which are the same.
      ...['ffmpeg', 'decoder', 'media', 'inspection'].map((folder) => `packages/server/src/${folder}/`),
      // The practice host stands for places that know nothing of this program.
      'packages/server/src/practice-host/site/',
      // What was written once is read as it was written.
      'packages/core/src/recipe/migrate.ts',
      'packages/server/src/database/migrations/',
    ],
  },
  {
    name: 'joins',
    ids: ['cut', 'crossfade', 'there-and-back', 'per-pixel'],
    alsoWords: ['cut'],
    within: ['packages/core/src/loop/joins/'],
  },
];

/** Where a file outside a family names one of its ids, in a sentence each. */
export function namedKinds(file: string, source: string): string[] {
  const families = FAMILIES.filter(({ within }) => !within.some((place) => file.startsWith(place)));
  const found: string[] = [];
  const tell = (value: unknown, isKind: boolean) => {
    for (const { name, ids, alsoWords = [] } of families) {
      const isNamed =
        typeof value === 'string' && ids.includes(value) && (isKind || !alsoWords.includes(value));
      if (isNamed) found.push(`${file}: names “${value}”, one of the ${name}; ask the kind what it can do`);
    }
  };
  const kinds = new Set<object>();
  new Visitor({
    Property({ key, value }) {
      if (key.type === 'Identifier' && key.name === 'kind') kinds.add(value);
    },
    Literal(literal) {
      tell(literal.value, kinds.has(literal));
    },
  }).visit(parseSync(file, source).program);
  return found;
}
