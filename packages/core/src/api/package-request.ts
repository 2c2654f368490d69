import Joi from 'joi';

/** Finished files and texts that are saved together, in one ZIP. */
export interface PackageRequest {
  readonly files: readonly { readonly trial: string; readonly name: string }[];
  /** Pages and snippets. */
  readonly texts: readonly { readonly name: string; readonly text: string }[];
}

const name = Joi.string().min(1).max(160).required();

export const packageRequestSchema = Joi.object<PackageRequest>({
  files: Joi.array()
    .items(Joi.object({ trial: Joi.string().min(1).max(60).required(), name }))
    .min(1)
    .max(20)
    .required(),
  texts: Joi.array()
    .items(Joi.object({ name, text: Joi.string().allow('').max(1_000_000).required() }))
    .max(5)
    .required(),
});
