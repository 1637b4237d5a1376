import type { Subject } from '../../engine/messages';
import type { PlateCard } from '../session';

interface Entry {
  label: string;
  subject: Subject;
}

/** A subject as a text that tells it from others. */
export function subjectKey(subject: Subject): string {
  return Object.values(subject).join(' ');
}

/** Everything of a plate that can be looked at, in the order in which keys step through it. */
export function lookableSubjects(card: PlateCard): { title: string; entries: Entry[] }[] {
  return [
    {
      title: 'Bench',
      entries: [
        { label: 'final', subject: { kind: 'final' } },
        { label: 'behind the plate', subject: { kind: 'behind', station: 'plate' } },
        { label: 'what is in focus', subject: { kind: 'sharpness' } },
        { label: 'noise and bands', subject: { kind: 'grain' } },
        { label: 'feed of the veil', subject: { kind: 'feed' } },
      ],
    },
    {
      title: 'Passes',
      entries: card.passes.map(({ name }) => ({ label: name, subject: { kind: 'pass', pass: name } })),
    },
    {
      title: 'Channels',
      entries: card.passes.flatMap(({ name, channels }) =>
        channels.map((channel): Entry => ({
          label: channel,
          subject: { kind: 'pass', pass: name, channel },
        })),
      ),
    },
  ];
}

/** The pass after (or before) the one that is looked at; from anything else, the first (or last). */
export function stepPass(card: PlateCard, subject: Subject, step: 1 | -1): Subject {
  const names = card.passes.map(({ name }) => name);
  const at = subject.kind === 'pass' ? names.indexOf(subject.pass) : step > 0 ? -1 : names.length;
  const next = at + step;
  // Before the first and after the last lies the final.
  return next < 0 || next >= names.length ? { kind: 'final' } : { kind: 'pass', pass: names[next]! };
}
