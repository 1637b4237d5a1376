'use client';
import RuleOutlined from '@mui/icons-material/RuleOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import { useMemo, useState } from 'react';
import type { LampCores } from '../../core/bench/lamp-cores';
import { setSetting, STATION_LABELS } from '../../core/look/look';
import { applyRemedies, realityCheck, type Finding } from '../../core/look/reality';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { CornerPopover } from '../common';
import { useLatest } from '../controls';
import { askBench, reportError, usePlates } from '../session';

/** Brings findings back within what real lenses do, as one step. */
async function bringBack(findings: readonly Finding[]): Promise<void> {
  try {
    let look = applyRemedies(useShot.getState().look, findings);
    const { activePlate, setLook } = useShot.getState();
    const id = activePlate ? usePlates.getState().cards[activePlate]?.id : undefined;
    for (const { remedy } of findings) {
      if (!('threshold' in remedy) || !id) continue;
      const input = { share: remedy.threshold, of: 'pixels' } as const;
      const threshold = await askBench({ name: 'feedThreshold', look, input, plate: id });
      look = setSetting(look, 'veil.feed.threshold', threshold);
    }
    setLook(look);
  } catch (error) {
    reportError(error);
  }
}

/** What lamps have lost, asked for while the list is open and the picture rests. */
function useLampCores(isOpen: boolean): LampCores | undefined {
  const activePlate = useShot((state) => state.activePlate);
  const plate = usePlates((state) => (activePlate ? state.cards[activePlate]?.id : undefined));
  const look = useShot((state) => state.look);
  const isResting = useDesk((state) => state.phase === 'final' && !state.dragging);
  const own = JSON.stringify([plate, look]);
  const key = isOpen && plate && isResting ? own : undefined;
  const cores = useLatest(key, async () => ({
    found: await askBench({ name: 'lampCoreSurvey', look: useShot.getState().look, input: {}, plate }),
    of: key,
  }));
  // Findings of another look are none of this one's.
  return cores?.of === own ? cores.found : undefined;
}

/** Tells how much of the look lies beyond what real lenses do, and opens the list of it. */
export function RealityCheck() {
  const [isOpen, setIsOpen] = useState(false);
  const look = useShot((state) => state.look);
  const feed = useDesk((state) => state.feed);
  const cores = useLampCores(isOpen);
  const findings = useMemo(() => realityCheck(look, { feed, cores }), [look, feed, cores]);
  const count = findings.length;
  const says = count === 0 ? 'all as real lenses do' : `${count} beyond real lenses`;
  return (
    <CornerPopover
      title="Reality check"
      name={`Reality check: ${says}`}
      tooltip={`Reality check: ${says}`}
      button={
        <>
          <RuleOutlined sx={{ fontSize: 15 }} />
          {count > 0 && count}
        </>
      }
      colour={count === 0 ? 'success.main' : 'error.main'}
      top={8}
      width={420}
      aside={
        count > 1 && (
          <Button size="small" variant="outlined" color="inherit" onClick={() => void bringBack(findings)}>
            Bring all back
          </Button>
        )
      }
      onToggle={setIsOpen}
    >
      {(close) =>
        count === 0 ? (
          <Box sx={{ color: 'success.main', py: 0.5 }}>
            Everything that has a say in the picture lies within what real lenses do.
          </Box>
        ) : (
          findings.map((finding) => <FindingRow key={finding.label} finding={finding} onLeave={close} />)
        )
      }
    </CornerPopover>
  );
}

function FindingRow({ finding, onLeave }: { finding: Finding; onLeave: () => void }) {
  const set = useDesk((state) => state.set);
  const { station, label, value, band, why, source, path } = finding;
  return (
    <Box
      component="section"
      aria-label={label}
      sx={{ borderTop: '1px solid', borderColor: 'divider', py: 0.75 }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <ButtonBase
          aria-label={`Show ${label}`}
          onClick={() => {
            set({ station, revealed: path });
            onLeave();
          }}
          sx={{ flex: 1, justifyContent: 'flex-start', textAlign: 'left', fontWeight: 600 }}
        >
          {STATION_LABELS[station]} · {label}
        </ButtonBase>
        <Button
          size="small"
          variant="outlined"
          color="inherit"
          aria-label={`Bring ${label} back`}
          onClick={() => void bringBack([finding])}
          sx={{ flex: 'none' }}
        >
          Bring back
        </Button>
      </Box>
      <Box sx={{ fontFamily: 'var(--figures)', fontSize: 11 }}>
        <Box component="span" sx={{ color: 'error.main' }}>
          {value}
        </Box>
        <Box component="span" sx={{ color: 'text.secondary' }}>
          {' '}
          · real lenses {band}
        </Box>
      </Box>
      <Box sx={{ pt: 0.25 }}>{why}</Box>
      <Box sx={{ fontSize: 11, color: 'text.secondary' }}>{source}</Box>
    </Box>
  );
}
