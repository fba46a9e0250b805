import type { Quantity } from '@grellin/core';
import { object, type InferType } from 'yup';
import { finite, unit } from './primitives';
import { same } from './same';

export const quantitySchema = object({ value: finite(), unit: unit() }).required().noUnknown();
same<InferType<typeof quantitySchema>, Quantity>(true);
