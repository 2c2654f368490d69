export interface NoticedPackage {
  readonly name: string;
  readonly version: string;
  readonly licence: string;
  readonly text: string | null;
}
export function licenceText(folder: string): string | null;
export function noticesOf(packages: readonly NoticedPackage[]): string;
