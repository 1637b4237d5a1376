'use client';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { useState } from 'react';
import { getSetting, setSetting, settingAt, type Look } from '../../core/look/look';
import { differenceText } from '../../core/look/differences';
import { proposalsOf, type LightProposal } from '../../core/measure/propose';
import { shownText } from '../../core/settings/shown-text';
import { useDesk, type DeskState } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { Pill } from '../common';
import { LampChart } from './LampChart';
import { useLamps, type Lamps } from './use-lamps';

/** What is measured of a lamp of the reference, beside the same of the picture; each value can be taken, and none is unasked. */
export function MeasurePanel() {
  const lamps = useLamps();
  const [channels, setChannels] = useState(false);
  const circles = useDesk((state) => state.circles);
  const set = useDesk((state) => state.set);
  return (
    <Box
      component="section"
      aria-label="Measured light"
      sx={{
        flex: 'none',
        height: 236,
        display: 'flex',
        flexDirection: 'column',
        borderTop: '1px solid',
        borderColor: 'divider',
        bgcolor: 'background.default',
        fontSize: 11,
      }}
    >
      <Box sx={{ height: 28, px: 1.5, display: 'flex', alignItems: 'center', gap: 1 }}>
        <Legend colour="primary.main" label="reference, its fit dashed" />
        <Legend colour="text.primary" label="picture" />
        <Pill
          on={channels}
          label="channels"
          name="The light of each channel"
          onClick={() => setChannels(!channels)}
        />
        <Box component="span" role="status" data-testid="measure-status" sx={{ color: 'text.secondary' }}>
          {statusOf(lamps, circles)}
        </Box>
        <Box sx={{ flex: 1 }} />
        <IconButton
          size="small"
          aria-label="End measuring"
          onClick={() => set({ circles: null })}
          sx={{ p: 0.25 }}
        >
          <Close sx={{ fontSize: 14 }} />
        </IconButton>
      </Box>
      <Box sx={{ flex: 1, minHeight: 0, display: 'flex' }}>
        <LampChart reference={lamps.reference} picture={lamps.picture} channels={channels} />
        {lamps.reference && <Proposals lamp={lamps.reference} isOutdated={lamps.isOutdated} />}
      </Box>
    </Box>
  );
}

function statusOf({ reference, isOutdated }: Lamps, circles: DeskState['circles']): string {
  if (!circles?.compared) return 'draw a circle round a lamp of the reference, from its middle';
  if (isOutdated) return 'measuring …';
  if (reference === null) return 'there is no light in this circle of the reference';
  return circles.shown ? '' : 'for amounts, draw one round a lamp of the picture that is to glow as much';
}

function Legend({ colour, label }: { colour: string; label: string }) {
  return (
    <Box component="span" sx={{ display: 'flex', alignItems: 'center', gap: 0.5, color: 'text.secondary' }}>
      <Box component="span" sx={{ width: 14, height: 2, bgcolor: colour }} />
      {label}
    </Box>
  );
}

/** The settings that the lamp's light tells of, beside what they are now. */
function Proposals({ lamp, isOutdated }: { lamp: NonNullable<Lamps['reference']>; isOutdated: boolean }) {
  const look = useShot((state) => state.look);
  return (
    <Box
      sx={{
        width: 388,
        flex: 'none',
        overflowY: 'auto',
        px: 1,
        borderLeft: '1px solid',
        borderColor: 'divider',
        opacity: isOutdated ? 0.6 : 1,
      }}
    >
      <Box
        component="table"
        aria-label="What the reference's light tells"
        sx={{
          width: '100%',
          borderCollapse: 'collapse',
          'th, td': { textAlign: 'left', fontWeight: 400, py: 0, pr: 0.75, whiteSpace: 'nowrap' },
          td: { fontFamily: 'var(--figures)' },
          tr: { height: 18 },
        }}
      >
        <thead>
          <Box component="tr" sx={{ th: { color: 'text.secondary' } }}>
            <th scope="col">Setting</th>
            <th scope="col">Measured, from to</th>
            <th scope="col">Now</th>
            <th scope="col" aria-label="Take" />
          </Box>
        </thead>
        <tbody>
          {proposalsOf(lamp).map((proposal) => (
            <tr key={proposal.path}>
              <th scope="row" title={proposal.path}>
                {labelOf(proposal.path)}
              </th>
              <Measured proposal={proposal} />
              <td>{differenceText(proposal.path, getSetting(look, proposal.path))}</td>
              <td>
                {proposal.estimate && (
                  <Button
                    size="small"
                    color="inherit"
                    disabled={isTaken(look, proposal)}
                    aria-label={`Take ${labelOf(proposal.path)}`}
                    onClick={() => take(proposal)}
                    sx={{ fontSize: 11, py: 0, minWidth: 0, lineHeight: '18px' }}
                  >
                    take
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Box>
      {lamp.notes.map((note) => (
        <Box key={note} sx={{ py: 0.25, color: 'text.secondary' }}>
          {note}
        </Box>
      ))}
    </Box>
  );
}

function Measured({ proposal: { path, estimate } }: { proposal: LightProposal }) {
  const setting = settingAt(path);
  if (!estimate || setting.kind !== 'number')
    return (
      <Box component="td" sx={{ color: 'text.secondary' }}>
        too little evidence
      </Box>
    );
  const [value, low, high] = [estimate.value, estimate.low, estimate.high].map((one) =>
    shownText(setting, Number(one.toPrecision(3))),
  );
  return (
    <td>
      {value}{' '}
      <Box component="span" sx={{ color: 'text.secondary' }}>
        {low} to {high}
      </Box>
    </td>
  );
}

function labelOf(path: string): string {
  const { group, label } = settingAt(path);
  return `${group}: ${label.toLowerCase()}`;
}

function isTaken(look: Look, { path, estimate, needs }: LightProposal): boolean {
  return [[path, estimate?.value] as const, ...needs].every(
    ([one, value]) => getSetting(look, one) === value,
  );
}

/** Takes a measured value over, with what it needs to be seen, in one step. */
function take({ path, estimate, needs }: LightProposal): void {
  if (!estimate) return;
  const { look, setLook } = useShot.getState();
  setLook(
    needs.reduce(
      (next, [need, value]) => setSetting(next, need, value),
      setSetting(look, path, estimate.value),
    ),
  );
}
