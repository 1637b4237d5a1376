import { plateAlone } from '../../core/look/look';
import type { PlateEntry } from '../../core/shot/shot';
import type { ShownBitmap } from '../../engine/browser/bench.worker';
import { benchEngine, unwrap } from '../../engine/browser/client';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { openEntry } from '../session';
import { hasWideScreen } from '../common';
import type { Wish } from './wish';

/** What the wipe and the held key compare with: the plate as it came in, or the final of another version of it. */
export class CompareView {
  private last: string | undefined;
  /** Lets go of the version that is open for the wipe. */
  private letGo: (() => void) | undefined;

  /** Shows what is to be compared with, if it is another than before; undefined if there is nothing new. */
  async refresh(wish: Wish): Promise<ShownBitmap | undefined> {
    const { wipe, holdPlate, viewExposure, falseColour } = useDesk.getState();
    const version = holdPlate ? undefined : this.wipeVersion(wish);
    if (version === undefined && !holdPlate) this.release();
    if (wipe === null && !holdPlate) return undefined;
    const { look, of, scale } = wish;
    const bare = plateAlone(look);
    const content = version === undefined ? [bare.plate, look.film] : [version.version, look];
    const key = JSON.stringify([wish.plate, of, content, viewExposure, falseColour, scale.full]);
    if (key === this.last) return undefined;
    this.last = key;
    try {
      const plate = version === undefined ? wish.plate : await this.open(version);
      const shown = unwrap(
        await benchEngine().show({
          lane: 'compare',
          plate,
          look: version === undefined ? bare : look,
          scale: scale.full,
          subject: { kind: 'final' },
          viewExposure,
          falseColour,
          displayP3: hasWideScreen(),
        }),
      );
      if (key === this.last) return shown;
      shown.bitmap.close();
      return undefined;
    } catch (error) {
      if (key === this.last) this.last = undefined;
      throw error;
    }
  }

  /** Computes anew, whatever was shown: the engine is another. */
  forget(): void {
    this.letGo = undefined;
    this.last = undefined;
  }

  /** Lets go of the version that is open for the wipe. */
  release(): void {
    this.letGo?.();
    this.letGo = undefined;
  }

  /** The plate with the version that the wipe compares with, if it is another than the one on the bench. */
  private wipeVersion({ of }: Wish): PlateEntry | undefined {
    const { wipeVersion, wipe } = useDesk.getState();
    const entry = useShot.getState().plates.find(({ id }) => id === of.plate);
    if (wipe === null || wipeVersion?.plate !== of.plate || !entry) return undefined;
    const { version } = wipeVersion;
    const frames = entry.versions[version]?.frames;
    if (!frames || version === entry.version) return undefined;
    return { ...entry, version, frame: Math.min(entry.frame, frames.length - 1) };
  }

  private async open(entry: PlateEntry): Promise<string> {
    const { opened, release } = await openEntry(entry);
    this.release();
    this.letGo = release;
    return opened.id;
  }
}
