import type { Look } from '../look/look';
import type { Tracks } from '../look/tracks';
import {
  backgroundOf,
  filesOf,
  plateOfBackground,
  plateUnder,
  withPlateUnder,
  type PlateFile,
  type Shot,
} from './shot';

/**
 * The shot with an id of its own for everything in it, so that it can be open beside the one that it was saved from. `files`
 * are its files by the ids that they had.
 */
export function withFreshIds(
  shot: Shot,
  makeId: () => string,
): { shot: Shot; files: ReadonlyMap<string, PlateFile> } {
  const ids = new Map<string, string>();
  const fresh = (id: string): string => {
    const known = ids.get(id) ?? makeId();
    ids.set(id, known);
    return known;
  };
  const file = ({ id, name }: PlateFile): PlateFile => ({ id: fresh(id), name });
  const plates = shot.plates.map((plate) => ({
    ...plate,
    id: fresh(plate.id),
    elements: plate.elements.map(fresh),
    versions: plate.versions.map((version) => ({
      id: fresh(version.id),
      frames: version.frames.map((frame) => ({
        ...frame,
        files: frame.files.map(file),
        ...(frame.older && { older: frame.older.map(file) }),
      })),
    })),
  }));
  const references = shot.references.map((reference) => ({
    ...reference,
    id: fresh(reference.id),
    file: file(reference.file),
  }));
  const proofs = shot.proofs.map((proof) => ({
    ...proof,
    id: fresh(proof.id),
    of: { ...proof.of, plate: fresh(proof.of.plate), version: fresh(proof.of.version) },
    picture: proof.picture && file(proof.picture),
    look: underFresh(proof.look, ids),
  }));
  const look = underFresh(shot.look, ids);
  const tracks = tracksUnderFresh(shot.tracks, ids);
  const activePlate = shot.activePlate === null ? null : (ids.get(shot.activePlate) ?? null);
  return {
    shot: { ...shot, plates, references, images: shot.images.map(file), proofs, look, tracks, activePlate },
    files: new Map(filesOf(shot).map(({ id, name }) => [id, { id: fresh(id), name }])),
  };
}

/** A look with the plate that lies under its picture by its fresh id. */
function underFresh(look: Look, ids: ReadonlyMap<string, string>): Look {
  const under = ids.get(plateUnder(look) ?? '');
  return under ? withPlateUnder(look, under) : look;
}

const BACKGROUND = 'plate.background';

/** The same of what lies under it over time. */
function tracksUnderFresh(tracks: Tracks, ids: ReadonlyMap<string, string>): Tracks {
  const track = tracks[BACKGROUND];
  if (!track) return tracks;
  const keys = track.keys.map((key) => {
    const under = ids.get(plateOfBackground(key.value as string) ?? '');
    return under ? { ...key, value: backgroundOf(under) } : key;
  });
  return { ...tracks, [BACKGROUND]: { ...track, keys } };
}
