'use client';
import { MOST_MIRRORS } from '../../../core/stations/ghosts/settings';
import { useShot } from '../../../state/shot-store';
import { EntryList, pathsBelow, Rows } from '../../controls';

const SETTINGS_OF_COPY = pathsBelow('ghosts.mirror[i]', ['on']).map((path) => path.split('.').at(-1)!);

/** Soft copies of the feed, as filter glasses throw them. */
export function MirrorList() {
  const copies = useShot((state) => state.look.ghosts.mirror);
  return (
    <EntryList
      path="ghosts.mirror"
      entries={copies}
      most={MOST_MIRRORS}
      addLabel="New copy"
      nameOf={(index) => `Copy ${index + 1}`}
      newEntry={() => ({})}
    >
      {(index) => <Rows paths={SETTINGS_OF_COPY.map((key) => `ghosts.mirror[${index}].${key}`)} />}
    </EntryList>
  );
}
