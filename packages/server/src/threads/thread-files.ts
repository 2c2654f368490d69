/** From sources, worker threads need the loader; built, they need nothing. */
const fromSources = import.meta.url.endsWith('.ts');

export const THREAD_ENDING = fromSources ? 'ts' : 'js';
export const THREAD_ARGV = fromSources ? ['--conditions=@muted-pond/source', '--import', 'tsx'] : [];
