import { STATION_IDS } from '../../core/look/look';
import { SHIPPED_LOOKS } from '../../core/look/shipped-looks';
import type { TakeOptions, WholeLook } from '../../core/look/whole-look';
import type { KeptLook } from '../../state/storage';

/** A look that can be chosen: one that comes with the application, or one that is kept. */
export interface Choice extends WholeLook {
  id: string;
  kept: KeptLook | undefined;
}

export type Taking = Required<TakeOptions>;

export const SHIPPED: readonly Choice[] = SHIPPED_LOOKS.map((look) => ({ ...look, kept: undefined }));

/** The plate's own settings go by its render. */
export const LENS_STATIONS = STATION_IDS.filter((station) => station !== 'plate');
