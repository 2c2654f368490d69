import { MOST_TOLD_WHOLE } from '@muted-pond/core/recipe';
import { forbiddenKey } from '@muted-pond/core/schema';
import { type ArgumentMetadata, StandardSchemaValidationPipe } from '@nestjs/common';
import { Problem } from './problems/index.js';

/** Reports every fault. */
const thorough = new StandardSchemaValidationPipe({
  validateOptions: { libraryOptions: { abortEarly: false, convert: false } },
});
/** Reports the first fault: all faults of a large document would take minutes. */
const brief = new StandardSchemaValidationPipe({ validateOptions: { libraryOptions: { convert: false } } });

/** Checks what was sent against its schema; a request that should carry something and does not is told so. */
export class JsonBodyPipe extends StandardSchemaValidationPipe {
  override transform<T>(value: T, metadata: ArgumentMetadata): Promise<T> {
    if (metadata.type === 'body' && value === undefined) {
      throw new Problem(400, 'no_body', 'This request must carry JSON, with the type application/json.');
    }
    const forbidden = metadata.type === 'body' ? forbiddenKey(value) : null;
    if (forbidden !== null) {
      throw new Problem(
        400,
        'request_refused',
        `A key may not be called “${forbidden}”. Choose another name.`,
      );
    }
    const isLarge = metadata.type === 'body' && JSON.stringify(value).length > MOST_TOLD_WHOLE;
    return (isLarge ? brief : thorough).transform(value, metadata) as Promise<T>;
  }
}
