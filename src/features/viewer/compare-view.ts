import { plateAlone } from '../../core/look/look';
import type { PlateEntry } from '../../core/shot/shot';
import type { ShowRequest } from '../../engine/messages';
import { benchEngine, unwrap } from '../../engine/browser/client';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { hasWideScreen, refineScale } from '../common';
import { benchLook, openEntry, proofPicture, REFERENCE_LOOK, referenceId, usePlates } from '../session';
import { comparedLook, proofOf } from './compared';
import type { Wish } from './wish';

/** What the picture is held against, as it is drawn. */
export interface Compared {
  bitmap: ImageBitmap;
  /** Whether it keeps its own shape within the picture's. */
  ownShape: boolean;
}

/** A picture to be made of something that is open under an id, or gone. */
interface Source {
  /** Another one for another picture. */
  key: unknown;
  ownShape: boolean;
  make: () => Promise<ImageBitmap>;
}

/** What the picture is held against: the plate, another look or version of it, a proof as it was saved, a reference. */
export class CompareView {
  private last: string | undefined;
  /** Lets go of the version that is open to compare with. */
  private letGo: (() => void) | undefined;

  /** Shows what is to be compared with, if it is another than before; undefined if there is nothing new. */
  async refresh(wish: Wish): Promise<Compared | undefined> {
    const { compare, against, holdPlate } = useDesk.getState();
    if (holdPlate || against.kind !== 'version') this.release();
    const isSeen = holdPlate || (compare !== null && compare !== 'difference');
    const source = isSeen ? this.sourceOf(wish) : undefined;
    if (!source) return undefined;
    const { viewExposure, falseColour } = useDesk.getState();
    const key = JSON.stringify([wish.plate, wish.of, source.key, viewExposure, falseColour, wish.scale.full]);
    if (key === this.last) return undefined;
    this.last = key;
    try {
      const bitmap = await source.make();
      if (key === this.last) return { bitmap, ownShape: source.ownShape };
      bitmap.close();
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

  /** Lets go of the version that is open to compare with. */
  release(): void {
    this.letGo?.();
    this.letGo = undefined;
  }

  private sourceOf(wish: Wish): Source | undefined {
    const { against, holdPlate } = useDesk.getState();
    const plate = (): Source => {
      const bare = plateAlone(wish.look);
      const make = (): Promise<ImageBitmap> => this.show(wish, { plate: wish.plate, look: bare });
      return { key: [bare.plate, wish.look.film], ownShape: false, make };
    };
    if (holdPlate || against.kind === 'plate') return plate();
    if (against.kind === 'version') {
      const version = versionOf(wish, against);
      if (!version) return plate();
      const make = async (): Promise<ImageBitmap> =>
        this.show(wish, { plate: await this.open(version), look: wish.look });
      return { key: [version.version, wish.look], ownShape: false, make };
    }
    if (against.kind === 'reference') return this.reference(wish, against.id);
    const look = comparedLook(against);
    if (!look) return undefined;
    const proof = against.kind === 'proof' ? proofOf(against.id) : undefined;
    if (proof && !isOfRender(proof.of, wish)) {
      // Its render is not on the bench: it is shown as it was saved.
      const make = (): Promise<ImageBitmap> => proofPicture(proof);
      return { key: proof.id, ownShape: true, make };
    }
    const make = (): Promise<ImageBitmap> => this.show(wish, { plate: wish.plate, look: benchLook(look) });
    return { key: look, ownShape: false, make };
  }

  private reference(wish: Wish, id: string): Source | undefined {
    const reference = useShot.getState().references.find((one) => one.id === id);
    const open = usePlates.getState().references[id];
    if (!reference || !open) return undefined;
    const { exposure, white } = reference;
    const { film } = wish.look;
    const look = {
      ...REFERENCE_LOOK,
      film: { ...REFERENCE_LOOK.film, view: film.view, lut: film.lut, lutInput: film.lutInput },
    };
    const card = usePlates.getState().cards[wish.of.plate];
    // As fine as the picture is, where both are as high.
    const ratio = card ? Math.max(card.width / open.width, card.height / open.height) : 1;
    const scale = refineScale(Math.min(1, wish.scale.full * ratio), 1);
    const { viewExposure } = useDesk.getState();
    const make = (): Promise<ImageBitmap> =>
      this.show(wish, {
        plate: referenceId(id),
        look,
        scale,
        viewExposure: viewExposure + exposure,
        gains: white,
      });
    return { key: [id, exposure, white, look, scale], ownShape: true, make };
  }

  private async show(
    wish: Wish,
    request: Pick<ShowRequest, 'plate' | 'look'> & Partial<ShowRequest>,
  ): Promise<ImageBitmap> {
    const { viewExposure, falseColour } = useDesk.getState();
    const { bitmap } = unwrap(
      await benchEngine().show({
        lane: 'compare',
        scale: wish.scale.full,
        subject: { kind: 'final' },
        viewExposure,
        falseColour,
        displayP3: hasWideScreen(),
        ...request,
      }),
    );
    return bitmap;
  }

  private async open(entry: PlateEntry): Promise<string> {
    const { opened, release } = await openEntry(entry);
    this.release();
    this.letGo = release;
    return opened.id;
  }
}

/** The plate with the version that is compared with, if it is another than the one on the bench. */
function versionOf({ of }: Wish, against: { plate: string; version: number }): PlateEntry | undefined {
  const entry = useShot.getState().plates.find(({ id }) => id === of.plate);
  if (against.plate !== of.plate || !entry) return undefined;
  const { version } = against;
  const frames = entry.versions[version]?.frames;
  if (!frames || version === entry.version) return undefined;
  return { ...entry, version, frame: Math.min(entry.frame, frames.length - 1) };
}

/** Whether a proof was saved of the render that is on the bench. */
function isOfRender(saved: { plate: string; version: string; frame: number }, { of }: Wish): boolean {
  const entry = useShot.getState().plates.find(({ id }) => id === of.plate);
  return (
    entry !== undefined &&
    saved.plate === entry.id &&
    saved.version === entry.versions[entry.version]?.id &&
    saved.frame === entry.frame
  );
}
