import { mkdirSync } from 'node:fs';
import { type DynamicModule, Module } from '@nestjs/common';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { ScheduleModule } from '@nestjs/schedule';
import { TypeOrmModule } from '@nestjs/typeorm';
import type { NextFunction, Request, Response } from 'express';
import { Problem, ProblemFilter, sendProblem } from '../../problems/index.js';
import { HostPages } from './host-pages.service.js';
import { HOST_SETTINGS, HOST_TABLES, type HostSettings, hostFolders } from './host-settings.js';
import { HostUploads } from './host-uploads.service.js';
import { HOST_MIGRATIONS } from './migrations.js';
import { HostPage } from './page.entity.js';
import { PlaceMood } from './place-mood.entity.js';
import { policy, SiteController } from './site.controller.js';

@Module({})
class HostModule {}

/** A whole host of its own: its tables, its files, its pages. Nothing of the editor is reachable here. */
export async function createHost(settings: HostSettings): Promise<NestExpressApplication> {
  const { database, files, uploads } = hostFolders(settings.folder);
  for (const folder of [files, uploads]) mkdirSync(folder, { recursive: true });
  const module: DynamicModule = {
    module: HostModule,
    imports: [
      ScheduleModule.forRoot(),
      TypeOrmModule.forRoot({
        name: HOST_TABLES,
        type: 'better-sqlite3',
        database,
        entities: [HostPage, PlaceMood],
        migrations: HOST_MIGRATIONS,
        migrationsRun: true,
        enableWAL: true,
        retryAttempts: 0,
      }),
      TypeOrmModule.forFeature([HostPage, PlaceMood], HOST_TABLES),
    ],
    controllers: [SiteController],
    providers: [{ provide: HOST_SETTINGS, useValue: settings }, HostPages, HostUploads],
  };
  const app = await NestFactory.create<NestExpressApplication>(module, {
    logger: ['error', 'warn'],
    bodyParser: false,
    abortOnError: false,
    forceCloseConnections: true,
  });
  app.disable('x-powered-by');
  app.set('query parser', (query: string) => Object.fromEntries(new URLSearchParams(query ?? '')));
  app.use(strict);
  app.useGlobalFilters(new ProblemFilter());
  return app;
}

const OWN_NAMES = /^(localhost|127\.0\.0\.1|\[::1\])(:\d{1,5})?$/;

/** Answers to this machine’s own names only, and lets no page do anything but show. */
function strict(request: Request, response: Response, next: NextFunction): void {
  if (!OWN_NAMES.test(request.headers.host?.toLowerCase() ?? '')) {
    sendProblem(
      response,
      new Problem(421, 'unknown_host', 'The practice host does not answer to this name.'),
    );
    return;
  }
  response.setHeader('Content-Security-Policy', policy("'none'"));
  response.setHeader('X-Content-Type-Options', 'nosniff');
  response.setHeader('X-Frame-Options', 'DENY');
  response.setHeader('Referrer-Policy', 'no-referrer');
  next();
}
