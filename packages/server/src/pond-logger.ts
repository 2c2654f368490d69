import { ConsoleLogger } from '@nestjs/common';

/** Log contexts of the framework itself, which are dropped. */
const FRAMEWORK = new Set([
  'NestFactory',
  'InstanceLoader',
  'RoutesResolver',
  'RouterExplorer',
  'NestApplication',
]);

/** One short line for each thing that a person should know. */
export class PondLogger extends ConsoleLogger {
  override log(message: unknown, context?: string): void {
    if (context && FRAMEWORK.has(context)) return;
    process.stdout.write(`${message}\n`);
  }
}
