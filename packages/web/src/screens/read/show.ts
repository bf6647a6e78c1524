import { formatValue } from '@imprint/core/parameters/format';
import type { Unit } from '@imprint/core/parameters/parameter';

/** A value with its unit; null where nothing was found. */
export const show = (value: number | null, unit: Unit) => (value === null ? null : formatValue(value, unit));
