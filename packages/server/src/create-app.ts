import 'reflect-metadata';
import { type LoggerService, StandardSchemaValidationPipe } from '@nestjs/common';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import { appModule } from './app.module.js';
import { PondLogger } from './pond-logger.js';
import { ProblemFilter } from './problems/index.js';
import type { Settings } from './settings.js';

/** The whole server, not yet listening. */
export async function createApp(
  settings: Settings,
  logger: LoggerService | false = new PondLogger(),
): Promise<NestExpressApplication> {
  const app = await NestFactory.create<NestExpressApplication>(appModule(settings), {
    logger,
    // A file that is brought in is the request's body and must reach its handler unread.
    bodyParser: false,
    // Whoever starts the server says what went wrong.
    abortOnError: false,
  });
  app.useBodyParser('json', { limit: '2mb' });
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
