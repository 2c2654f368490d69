import 'reflect-metadata';
import { StandardSchemaValidationPipe } from '@nestjs/common';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import { AppModule } from './app.module.js';
import { ProblemFilter } from './problems/index.js';
import type { Settings } from './settings.js';

/** The whole server, not yet listening. */
export async function createApp(
  settings: Settings,
  logger: ('log' | 'warn' | 'error')[] = ['log', 'warn', 'error'],
): Promise<NestExpressApplication> {
  const app = await NestFactory.create<NestExpressApplication>(AppModule.with(settings), { logger });
  app.useGlobalFilters(new ProblemFilter());
  app.useGlobalPipes(
    new StandardSchemaValidationPipe({
      validateOptions: { libraryOptions: { abortEarly: false, convert: false } },
    }),
  );
  app.enableShutdownHooks();
  const description = new DocumentBuilder()
    .setTitle('Muted Pond')
    .setDescription('Footage in, pieces and their recipes, trials. Errors are problem details (RFC 9457).')
    .build();
  SwaggerModule.setup('api/docs', app, () => SwaggerModule.createDocument(app, description));
  return app;
}
