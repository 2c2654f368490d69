import { type ArgumentMetadata, StandardSchemaValidationPipe } from '@nestjs/common';
import { Problem } from './problems/index.js';

/** Checks what was sent against its schema; a request that should carry something and does not is told so. */
export class JsonBodyPipe extends StandardSchemaValidationPipe {
  override transform<T>(value: T, metadata: ArgumentMetadata): Promise<T> {
    if (metadata.type === 'body' && value === undefined) {
      throw new Problem(400, 'no_body', 'This request must carry JSON, with the type application/json.');
    }
    return super.transform(value, metadata) as Promise<T>;
  }
}
