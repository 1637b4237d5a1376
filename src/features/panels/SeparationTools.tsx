'use client';
import { useDesk } from '../../state/desk-store';
import { ReportRow } from './ReportRow';

const NAME = 'veil.bloom';

/** Shows the bloom by itself, and tells what left the frame. */
export function SeparationTools() {
  const subject = useDesk((state) => state.subject);
  const account = useDesk((state) => state.accounts.veil);
  const set = useDesk((state) => state.set);
  const alone = subject.kind === 'separation' && subject.name === NAME;
  return (
    <ReportRow
      button="Bloom alone"
      pressed={alone}
      onPress={() => set({ subject: alone ? { kind: 'final' } : { kind: 'separation', name: NAME } })}
    >
      {account ? `${(account.left * 100).toFixed(2)} % leaves the frame` : 'no light is spread yet'}
    </ReportRow>
  );
}
