import { object, string, type ObjectShape, type StringSchema } from 'yup';

/** An object with these fields and no others. What its fields are is known to the compiler, so that it can be held against a type of the core. */
export const shape = <F extends ObjectShape>(fields: F) => object(fields).required().noUnknown();

/** One of these words. */
export const choice = <const T extends string>(...all: readonly T[]): StringSchema<T> =>
  string<T>()
    .required()
    .oneOf([...all]);
