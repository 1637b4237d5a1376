import { MOST_PROOFS, type Proof } from '../../core/shot/shot';
import { benchEngine, unwrap } from '../../engine/browser/client';
import { useShot } from '../../state/shot-store';
import { refineScale } from '../common';
import { fileBlob, holdFile, keepFiles } from './files';
import { makeRoom } from './kept';
import { notify } from './notices';
import { benchLook } from './open-plates';
import { usePlates } from './plates';

/** About how many pixels across the picture of a proof is. */
const PICTURE_WIDTH = 1280;
const THUMBNAIL_WIDTH = 290;

/** The picture of the present look, about so many pixels across, as PNG; undefined without a plate. */
export async function presentPicture(across: number): Promise<Blob | undefined> {
  const { activePlate, look } = useShot.getState();
  const card = activePlate ? usePlates.getState().cards[activePlate] : undefined;
  if (!card) return undefined;
  const { bitmap } = unwrap(
    await benchEngine().show({
      lane: 'proof',
      plate: card.id,
      look: benchLook(look),
      scale: refineScale(Math.min(1, across / card.width), 1),
      subject: { kind: 'final' },
      viewExposure: 0,
    }),
  );
  const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
  canvas.getContext('2d')!.drawImage(bitmap, 0, 0);
  bitmap.close();
  return canvas.convertToBlob({ type: 'image/png' });
}

/** The next name that no proof has. */
function freeName(proofs: readonly Proof[]): string {
  const names = new Set(proofs.map(({ name }) => name));
  for (let count = proofs.length + 1; ; count++) if (!names.has(`Proof ${count}`)) return `Proof ${count}`;
}

/** Saves the present look with its picture, to compare with and return to. */
export async function saveProof(): Promise<void> {
  const { activePlate, plates, proofs, look } = useShot.getState();
  const plate = plates.find(({ id }) => id === activePlate);
  if (proofs.length >= MOST_PROOFS)
    return notify(`a shot holds ${MOST_PROOFS} proofs: remove one first`, 'warning');
  const png = plate && (await presentPicture(PICTURE_WIDTH));
  if (!plate || !png)
    return notify('there is no picture to save a proof of yet: bring a render in', 'warning');
  const id = crypto.randomUUID();
  // Others may have been saved meanwhile.
  const name = freeName(useShot.getState().proofs);
  const picture = { id: crypto.randomUUID(), name: `${name}.png` };
  await keepFiles([{ ...picture, blob: await holdFile(picture.id, png) }], makeRoom);
  const { version, frame, versions } = plate;
  const of = { plate: plate.id, version: versions[version]!.id, frame };
  const proof: Proof = { id, name, note: '', time: Date.now(), of, picture, look };
  useShot.getState().setProofs([...useShot.getState().proofs, proof]);
  notify(`${name} saved`, 'success');
}

/** Proofs that were removed in this session, the latest last: each can be brought back. */
const removed: Proof[] = [];

export const lastRemovedProof = (): Proof | undefined => removed.at(-1);

export function removeProof(id: string): void {
  const { proofs, setProofs } = useShot.getState();
  const gone = proofs.find((proof) => proof.id === id);
  if (!gone) return;
  removed.push(gone);
  setProofs(proofs.filter((proof) => proof !== gone));
  notify(`${gone.name} was removed; the shelf can bring it back`, 'success');
}

export function bringBackProof(): void {
  const proof = removed.pop();
  if (!proof) return;
  const { proofs, setProofs } = useShot.getState();
  setProofs([proof, ...proofs].sort((a, b) => a.time - b.time));
}

export function editProof(id: string, change: Partial<Pick<Proof, 'name' | 'note'>>): void {
  const { proofs, setProofs } = useShot.getState();
  setProofs(proofs.map((proof) => (proof.id === id ? { ...proof, ...change } : proof)));
}

/** Puts the look of a proof in place of the present one: one step. */
export function putBack({ name, look }: Proof): void {
  useShot.getState().setLook(look);
  notify(`the look of ${name} is on the bench; undo brings back what was there`, 'success');
}

/** The picture of a proof as it was saved. Throws if this browser no longer has it. */
export async function proofPicture({ name, picture }: Proof): Promise<ImageBitmap> {
  const blob = picture && (await fileBlob(picture.id));
  if (!blob) throw new Error(`the picture of ${name} is lost; its look is still there`);
  return createImageBitmap(blob);
}

/** The same, small. */
export async function proofThumbnail({ picture }: Proof): Promise<ImageBitmap | undefined> {
  const blob = picture && (await fileBlob(picture.id));
  return blob ? createImageBitmap(blob, { resizeWidth: THUMBNAIL_WIDTH, resizeQuality: 'high' }) : undefined;
}
