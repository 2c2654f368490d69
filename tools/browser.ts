import { existsSync } from 'node:fs';
import type { LaunchOptions } from '@playwright/test';

/** Debian's Chromium, quiet and offline. */
export const LAUNCH: LaunchOptions = {
  executablePath: ['/usr/bin/chromium', '/usr/bin/chromium-browser'].find((path) => existsSync(path)),
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
};
