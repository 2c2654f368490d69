export function isDiskFull(error: unknown): boolean {
  const code = (error as { code?: string } | null)?.code;
  return code === 'ENOSPC' || code === 'EDQUOT' || code === 'SQLITE_FULL';
}
