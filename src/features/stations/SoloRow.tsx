'use client';
import type { ReactNode } from 'react';
import { useDesk } from '../../state/desk-store';
import { ReportRow } from '../controls';

interface SoloRowProps {
  /** Of the separation. */
  name: string;
  label: string;
  /** Figures beside the button. */
  children?: ReactNode;
}

/** A button that shows one effect by itself, and the final again. */
export function SoloRow({ name, label, children }: SoloRowProps) {
  const subject = useDesk((state) => state.subject);
  const set = useDesk((state) => state.set);
  const alone = subject.kind === 'separation' && subject.name === name;
  return (
    <ReportRow
      button={`${label} alone`}
      pressed={alone}
      onPress={() => set({ subject: alone ? { kind: 'final' } : { kind: 'separation', name } })}
    >
      {children}
    </ReportRow>
  );
}
