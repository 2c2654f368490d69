import type { ApiBodyOptions } from '@nestjs/swagger';
import type { Schema } from 'joi';
import joiToSwagger from 'joi-to-swagger';

type SchemaObject = Extract<ApiBodyOptions, { schema: unknown }>['schema'];

/** A Joi schema as OpenAPI shows it: one description of a request for check and documentation. */
export function openApiSchema(schema: Schema): SchemaObject {
  return joiToSwagger.default(schema).swagger as SchemaObject;
}
