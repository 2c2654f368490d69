import { sentenceOf as sentence } from '@muted-pond/core/errors';

/** What a person is shown of an error; what was not meant for people goes to the console. */
export function sentenceOf(error: unknown): string {
  return sentence(error, (unexpected) => console.error(unexpected));
}
