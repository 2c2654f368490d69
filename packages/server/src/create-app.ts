import 'reflect-metadata';
import { accessSync, constants, mkdirSync } from 'node:fs';
import type { LoggerService } from '@nestjs/common';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import { accessGate, accessRules, readToken, securityHeaders } from './access/index.js';
import { appModule } from './app.module.js';
import { checkDatabase, lockFolder } from './data-folder/index.js';
import { MIGRATION_NAMES } from './database/index.js';
import { JsonBodyPipe } from './json-body.pipe.js';
import { PondLogger } from './pond-logger.js';
import { ProblemFilter } from './problems/index.js';
import { dataFolders, type Settings } from './settings.js';
import { serveWebFiles } from './web-files.js';

/** An upload may be slow; a connection on which no byte arrives for so long is closed, ms. */
const SILENT_MS = 120_000;

/**
 * The whole server, not yet listening. The data folder is taken before anything in it is looked at, and let
 * go when the server ends.
 * @throws UserError when another server has it, or its database cannot be used here.
 */
export async function createApp(
  settings: Settings,
  logger: LoggerService | false = new PondLogger(),
): Promise<NestExpressApplication> {
  mkdirSync(settings.dataDir, { recursive: true });
  // SQLite tells a folder that is read only as one thing here and another there.
  accessSync(settings.dataDir, constants.W_OK);
  const lock = lockFolder(settings.dataDir);
  try {
    const { database, token } = dataFolders(settings.dataDir);
    checkDatabase(database, MIGRATION_NAMES);
    const app = await NestFactory.create<NestExpressApplication>(appModule(settings, lock), {
      logger,
      // A file that is brought in is the request's body and must reach its handler unread.
      bodyParser: false,
      // Whoever starts the server says what went wrong.
      abortOnError: false,
      // Streams and uploads do not keep it from ending.
      forceCloseConnections: true,
    });
    const rules = accessRules(settings.host, settings.host ? readToken(token) : null);
    app.disable('x-powered-by');
    // Each name once: of several the last counts, and nothing is nested.
    app.set('query parser', (query: string) => Object.fromEntries(new URLSearchParams(query ?? '')));
    app.use(securityHeaders, accessGate(rules));
    app.useBodyParser('json', { limit: '2mb' });
    if (settings.webDir) serveWebFiles(app, settings.webDir);
    app.useGlobalFilters(new ProblemFilter());
    app.useGlobalPipes(new JsonBodyPipe());
    const server = app.getHttpServer();
    server.requestTimeout = 0;
    server.timeout = SILENT_MS;
    const description = new DocumentBuilder()
      .setTitle('Muted Pond')
      .setDescription('Footage in, pieces and their recipes, trials. Errors are problem details (RFC 9457).')
      .build();
    SwaggerModule.setup('api/docs', app, () => SwaggerModule.createDocument(app, description));
    return app;
  } catch (error) {
    lock.release();
    throw error;
  }
}
