import { keepsColours, lookOf } from '@muted-pond/core/colour';
import type { DressSettings } from '@muted-pond/core/dress';

function counted(count: number, one: string): string[] {
  if (count === 0) return [];
  return [count === 1 ? `1 ${one}` : `${count} ${one}s`];
}

/** What is dressed, for the course: “2 captions, Wet slate”. */
export function dressWords({ colour, captions, emblems, veils, border, corners }: DressSettings): string {
  const shown = (list: readonly { readonly shown: boolean }[]) => list.filter((one) => one.shown).length;
  const look = colour.look && colour.look.strength > 0 ? lookOf(colour.look.id) : null;
  const words = [
    ...counted(shown(veils), 'veil'),
    ...counted(shown(captions), 'caption'),
    ...(look ? [look.mix ? 'black & white' : look.name] : keepsColours(colour) ? [] : ['graded']),
    ...counted(shown(emblems), 'emblem'),
    ...(border ? ['border'] : []),
    ...(corners ? ['round'] : []),
  ];
  if (words.length === 0) return 'as filmed';
  return words.length <= 2 ? words.join(', ') : `${words[0]}, ${words[1]} +${words.length - 2}`;
}
