'use client';
import { useDesk } from '../../state/desk-store';
import { ReportRow } from './ReportRow';

/** Shows one part of the veil by itself, and tells what left the frame. */
export function SeparationTools({ name, label }: { name: string; label: string }) {
  const subject = useDesk((state) => state.subject);
  const account = useDesk((state) => state.accounts.veil);
  const set = useDesk((state) => state.set);
  const alone = subject.kind === 'separation' && subject.name === name;
  return (
    <ReportRow
      button={`${label} alone`}
      pressed={alone}
      onPress={() => set({ subject: alone ? { kind: 'final' } : { kind: 'separation', name } })}
    >
      {account ? `${(account.left * 100).toFixed(2)} % leaves the frame` : 'no light is spread yet'}
    </ReportRow>
  );
}
