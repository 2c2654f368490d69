import type { ValueTransformer } from 'typeorm';

/**
 * JSON in a text column. What cannot be parsed comes as its text, so that one bad row does not hide the
 * others.
 */
export const storedJson: ValueTransformer = {
  to: (value: unknown) => JSON.stringify(value),
  from(text: string): unknown {
    try {
      return JSON.parse(text);
    } catch {
      return text;
    }
  },
};
