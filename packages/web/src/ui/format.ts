/** Figures as people read them. All take plain numbers. */

/** 812 KB, 1.3 MB; 1 KB is 1000 bytes. Three figures, never rounded up to the next unit. */
export function formatBytes(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`;
  if (bytes < 999_500) return `${bytes < 9950 ? (bytes / 1000).toFixed(1) : Math.round(bytes / 1000)} KB`;
  return `${(bytes / 1e6).toFixed(bytes < 9.95e6 ? 2 : 1)} MB`;
}

/** mm:ss.cc */
export function formatClock(seconds: number): string {
  const centiseconds = Math.round(seconds * 100);
  const pad = (value: number) => String(value).padStart(2, '0');
  const minutes = Math.floor(centiseconds / 6000);
  return `${pad(minutes)}:${pad(Math.floor(centiseconds / 100) % 60)}.${pad(centiseconds % 100)}`;
}

/** 2.42 s */
export function formatSeconds(seconds: number): string {
  return `${seconds.toFixed(2)} s`;
}

/** 30, 29.97, 12.5: at most two decimals, none that are zero. */
export function formatRate(rate: number): string {
  return String(Number(rate.toFixed(2)));
}

/** How often a loop is seen, in words. */
export function playsWords(plays: number): string {
  if (plays === 0) return 'without end';
  return plays === 1 ? 'once' : `${plays} times`;
}

/** 2nd, 3rd, 4th, 11th, 21st. */
export function ordinal(number: number): string {
  const isTeen = number % 100 >= 11 && number % 100 <= 13;
  return `${number}${(!isTeen && ['', 'st', 'nd', 'rd'][number % 10]) || 'th'}`;
}

/** How much lighter or heavier: “−32 %”. */
export function formatChange(bytes: number, before: number): string {
  const share = Math.round((bytes / before - 1) * 100);
  return `${share > 0 ? '+' : share < 0 ? '−' : '±'}${Math.abs(share)} %`;
}
