import { create } from 'zustand';
import { SHIPPED_LOOKS } from '../../core/look/shipped-looks';
import {
  changesToFollow,
  follow,
  LOOK_EXTENSION,
  wholeLookDocument,
  type WholeLook,
} from '../../core/look/whole-look';
import { fileName } from '../../core/print/file-name';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { loadLooks, removeLook, saveLook, type KeptLook } from '../../state/storage';
import { download } from './download';
import { notify } from './notices';
import { presentPicture } from './proofs';

const THUMBNAIL_WIDTH = 320;

/** The looks that this browser keeps for all shots, the latest first; those of other tabs among them. */
export const useLooks = create<{ looks: readonly KeptLook[] }>()(() => ({ looks: [] }));

let channel: BroadcastChannel | undefined;

/** Reads the looks that are kept, and hears of those that other tabs save from now on. */
export async function loadLibrary(): Promise<void> {
  useLooks.setState({ looks: await loadLooks() });
  if (channel || typeof BroadcastChannel === 'undefined') return;
  channel = new BroadcastChannel('bokelux looks');
  channel.onmessage = () => void loadLooks().then((looks) => useLooks.setState({ looks }));
}

async function keep(look: KeptLook): Promise<void> {
  await saveLook(look);
  const others = useLooks.getState().looks.filter(({ id }) => id !== look.id);
  useLooks.setState({ looks: [look, ...others].sort((a, b) => b.time - a.time) });
  channel?.postMessage(look.id);
}

/** A name that no other look has: shots follow looks by it. */
export function freeLookName(wanted: string, but?: string): string {
  const taken = new Set([
    ...useLooks
      .getState()
      .looks.filter(({ id }) => id !== but)
      .map(({ name }) => name),
    ...SHIPPED_LOOKS.map(({ name }) => name),
  ]);
  let name = wanted;
  for (let k = 2; taken.has(name); k++) name = `${wanted} ${k}`;
  return name;
}

/** Keeps the present look under a name, with its picture. */
export async function savePresentLook(wanted: string): Promise<KeptLook> {
  const { look } = useShot.getState();
  const thumbnail = (await presentPicture(THUMBNAIL_WIDTH)) ?? null;
  const name = freeLookName(wanted);
  const kept = { id: crypto.randomUUID(), name, note: '', time: Date.now(), look, thumbnail };
  await keep(kept);
  notify(`${name} is kept for all shots`, 'success');
  return kept;
}

/** Puts the present look in the place of a kept one; shots that follow it are offered the change. */
export async function replaceLook(kept: KeptLook): Promise<void> {
  const { look, follows, follow: setFollows } = useShot.getState();
  const thumbnail = (await presentPicture(THUMBNAIL_WIDTH)) ?? kept.thumbnail;
  await keep({ ...kept, look, thumbnail, time: Date.now() });
  // What were trims here is the look itself now.
  if (follows?.name === kept.name) setFollows({ name: kept.name, look });
  notify(`${kept.name} is the present look now; shots that follow it are offered the change`, 'success');
}

export async function editLook(
  kept: KeptLook,
  change: Partial<Pick<KeptLook, 'name' | 'note'>>,
): Promise<void> {
  const name = change.name === undefined ? kept.name : freeLookName(change.name, kept.id);
  await keep({ ...kept, ...change, name });
  const { follows, follow: setFollows } = useShot.getState();
  if (follows?.name === kept.name && name !== kept.name) setFollows({ ...follows, name });
}

/** Looks that were removed in this session, the latest last. */
const removed: KeptLook[] = [];

export const lastRemovedLook = (): KeptLook | undefined => removed.at(-1);

export async function dropLook(kept: KeptLook): Promise<void> {
  await removeLook(kept.id);
  removed.push(kept);
  useLooks.setState({ looks: useLooks.getState().looks.filter(({ id }) => id !== kept.id) });
  channel?.postMessage(kept.id);
  notify(`${kept.name} was removed; it can be brought back`, 'success');
}

export async function bringBackLook(): Promise<void> {
  const kept = removed.pop();
  if (kept) await keep({ ...kept, name: freeLookName(kept.name) });
}

/** Takes a look with its name in among those that are kept, and shows it there. */
export async function takeIn({ name: wanted, note, look }: WholeLook): Promise<void> {
  const name = freeLookName(wanted);
  await keep({ id: crypto.randomUUID(), name, note, time: Date.now(), look, thumbnail: null });
  useDesk.getState().set({ looks: true, strip: null });
  notify(`${name} is among your looks`, 'success');
}

/** Hands a look with its name to the browser to save as a file. */
export function exportLook(look: WholeLook): void {
  const parts = { shot: look.name, plate: '', width: 0, height: 0, date: new Date() };
  const bytes = new TextEncoder().encode(`${JSON.stringify(wholeLookDocument(look), null, 2)}\n`);
  download(bytes, fileName('{shot}', parts, LOOK_EXTENSION));
}

/** The kept look that the shot follows has changed: what of it would change here. */
export interface FollowedChange {
  kept: KeptLook;
  paths: readonly string[];
}

export function followedChange(
  { follows, look }: Pick<ReturnType<typeof useShot.getState>, 'follows' | 'look'>,
  looks: readonly KeptLook[],
): FollowedChange | undefined {
  const kept = follows ? looks.find(({ name }) => name === follows.name) : undefined;
  if (!follows || !kept || JSON.stringify(kept.look) === JSON.stringify(follows.look)) return undefined;
  return { kept, paths: changesToFollow(follows.look, kept.look, look) };
}

/** Takes what changed in the look that the shot follows; its trims stay. One step. */
export function takeFollowed({ kept }: FollowedChange): void {
  const { follows, look, follow: setFollows } = useShot.getState();
  if (!follows) return;
  setFollows({ name: kept.name, look: kept.look }, follow(follows.look, kept.look, look));
  notify(`${kept.name} as it is now is on the bench; the trims of this shot stayed`, 'success');
}
