import type { NestExpressApplication } from '@nestjs/platform-express';
import type { NextFunction, Request, Response } from 'express';
import { isApiPath } from './access/index.js';

/**
 * Serves the built interface: its files, and its page at every address that the interface routes by itself.
 * Paths are told relative to the folder, so that a dot in the folder's own path refuses nothing.
 */
export function serveWebFiles(app: NestExpressApplication, webDir: string): void {
  app.useStaticAssets(webDir);
  app.use((request: Request, response: Response, next: NextFunction) => {
    const isPage = request.method === 'GET' || request.method === 'HEAD';
    if (!isPage || isApiPath(request.path)) next();
    else response.sendFile('index.html', { root: webDir });
  });
}
