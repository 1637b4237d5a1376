'use client';
import { useDesk } from '../../../state/desk-store';
import { ReportRow } from '../../controls';

/** How many pixels the clean-up touched, and the button that paints them over the picture. */
export function CleanReportRow() {
  const touched = useDesk((state) => state.touched);
  const shown = useDesk((state) => state.subject.kind === 'cleaned');
  const set = useDesk((state) => state.set);
  return (
    <ReportRow
      testId="touched"
      button="Show touched"
      pressed={shown}
      onPress={() => set({ subject: { kind: shown ? 'final' : 'cleaned' } })}
    >
      {touched ? (
        <>
          <div>{touched.clamped} pixels clamped</div>
          <div>{touched.despiked} pixels despiked</div>
        </>
      ) : (
        'nothing is touched'
      )}
    </ReportRow>
  );
}
