import type { StationContext } from '../../light/station';

/** What the plate's station uses of the bench. */
export type PlateContext = Pick<StationContext, 'plate' | 'cache' | 'backdrop' | 'kernels'>;
