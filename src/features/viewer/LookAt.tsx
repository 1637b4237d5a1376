'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import ListSubheader from '@mui/material/ListSubheader';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Tooltip from '@mui/material/Tooltip';
import { FALSE_COLOURS } from '../../core/color/false-colour';
import { RANGE_COLOURS } from '../../core/color/range-warning';
import type { Subject } from '../../engine/messages';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { usePlates } from '../session';
import { RegionFields } from './RegionFields';
import { lookableSubjects, subjectKey } from './subjects';

/** What the picture shows, with the figures that belong to it, over its upper edge. */
export function LookAt() {
  const subject = useDesk((state) => state.subject);
  const report = useDesk((state) => state.report);
  const falseColour = useDesk((state) => state.falseColour);
  const rangeWarning = useDesk((state) => state.rangeWarning);
  const scopes = useDesk((state) => state.scopes);
  const set = useDesk((state) => state.set);
  const activePlate = useShot((state) => state.activePlate);
  const card = usePlates((state) => (activePlate ? state.cards[activePlate] : undefined));
  if (!card) return null;
  const groups = lookableSubjects(card);
  const key = subjectKey(subject);
  const listed = groups.some(({ entries }) => entries.some((entry) => subjectKey(entry.subject) === key));
  return (
    <Box
      onPointerDown={(event) => event.stopPropagation()}
      onDoubleClick={(event) => event.stopPropagation()}
      sx={{
        position: 'absolute',
        left: 8,
        top: 6,
        display: 'flex',
        alignItems: 'center',
        gap: 1,
        fontSize: 11,
      }}
    >
      <Select
        value={key}
        onChange={(event) => {
          const all = groups.flatMap(({ entries }) => entries);
          const chosen = all.find((entry) => subjectKey(entry.subject) === event.target.value);
          if (chosen) set({ subject: chosen.subject });
        }}
        variant="outlined"
        inputProps={{ 'aria-label': 'Look at' }}
        MenuProps={{ slotProps: { paper: { sx: { maxHeight: 480 } } } }}
        sx={{
          height: 22,
          fontSize: 11,
          bgcolor: 'background.default',
          '.MuiSelect-select': { py: 0, px: 0.75 },
          fieldset: { borderColor: key === 'final' ? 'divider' : 'primary.main' },
        }}
      >
        {!listed && (
          <MenuItem dense value={key}>
            {nameOf(subject)}
          </MenuItem>
        )}
        {groups.flatMap(({ title, entries }) => [
          <ListSubheader key={title} sx={{ lineHeight: '24px', fontSize: 11, pointerEvents: 'none' }}>
            {title}
          </ListSubheader>,
          ...entries.map((entry) => (
            <MenuItem
              dense
              key={subjectKey(entry.subject)}
              value={subjectKey(entry.subject)}
              sx={{ fontSize: 12 }}
            >
              {entry.label}
            </MenuItem>
          )),
        ])}
      </Select>
      <Toggle
        on={falseColour}
        label="False colour"
        says="Light as colours by stops from middle grey (V)"
        onClick={() => set({ falseColour: !falseColour })}
      />
      <Toggle
        on={rangeWarning}
        label="Range"
        says="Paint over what the display cannot show: clipped, crushed, out of gamut (C)"
        onClick={() => set({ rangeWarning: !rangeWarning })}
      />
      <Toggle
        on={scopes}
        label="Scopes"
        says="Histogram, waveforms and chroma of the picture as shown (S)"
        onClick={() => set({ scopes: !scopes })}
      />
      <RegionFields card={card} />
      {report?.grain && (
        <Box
          component="span"
          data-testid="grain"
          sx={{
            px: 0.75,
            lineHeight: '22px',
            bgcolor: 'background.default',
            fontFamily: 'var(--figures)',
            whiteSpace: 'nowrap',
          }}
        >
          noise: {share(report.grain.sharp)} sharp, {share(report.grain.blurred)} blurred
        </Box>
      )}
      {report?.range && (
        <Box
          component="span"
          data-testid="range"
          sx={{ fontFamily: 'var(--figures)', color: 'text.secondary' }}
        >
          {figure(report.range[0])} to {figure(report.range[1])}
        </Box>
      )}
    </Box>
  );
}

interface ToggleProps {
  on: boolean;
  label: string;
  says: string;
  onClick: () => void;
}

/** A small button that turns something about the view on and off. */
function Toggle({ on, label, says, onClick }: ToggleProps) {
  return (
    <Tooltip title={says}>
      <ButtonBase
        aria-pressed={on}
        onClick={onClick}
        sx={{
          px: 0.75,
          height: 22,
          border: '1px solid',
          borderRadius: 0.5,
          borderColor: on ? 'primary.main' : 'divider',
          color: on ? 'primary.main' : 'text.secondary',
          bgcolor: 'background.default',
          whiteSpace: 'nowrap',
        }}
      >
        {label}
      </ButtonBase>
    </Tooltip>
  );
}

const share = (value: number | undefined): string =>
  value === undefined ? 'nothing' : `${(value * 100).toFixed(2)} %`;
const figure = (value: number): string => Number(value.toPrecision(5)).toString();

function nameOf(subject: Subject): string {
  switch (subject.kind) {
    case 'behind':
      return `behind ${subject.station}`;
    case 'separation':
      return `${subject.name} alone`;
    case 'mask':
      return 'a mask';
    case 'grain':
      return 'noise and bands';
    case 'cleaned':
      return 'touched pixels';
    case 'pass':
      return subject.channel ?? subject.pass;
    case 'rebuild':
      return `rebuild: ${subject.part}`;
    default:
      return subject.kind;
  }
}

/** The scale of the false colours, in stops, over the picture's lower edge. */
export function FalseColourLegend() {
  const on = useDesk((state) => state.falseColour);
  if (!on) return null;
  return (
    <Box
      role="img"
      aria-label="Scale of the false colours in stops from middle grey"
      sx={{
        position: 'absolute',
        left: 8,
        bottom: 8,
        display: 'flex',
        p: 0.5,
        bgcolor: 'background.default',
        fontFamily: 'var(--figures)',
        fontSize: 10,
        color: 'text.secondary',
        pointerEvents: 'none',
      }}
    >
      {FALSE_COLOURS.map(({ from, colour }) => (
        <Box key={from} sx={{ width: 26, textAlign: 'left' }}>
          <Box sx={{ height: 8, bgcolor: `rgb(${colour.join(', ')})` }} />
          {Number.isFinite(from) ? `${from > 0 ? '+' : ''}${from}` : 'st'}
        </Box>
      ))}
    </Box>
  );
}

/** What the display cannot show, in the colours that it is painted over with, and how much of the picture it is. */
export function RangeLegend() {
  const on = useDesk((state) => state.rangeWarning);
  const found = useDesk((state) => state.report?.outOfRange);
  if (!on || !found) return null;
  const entries = [
    ['clipped', found.clipped, RANGE_COLOURS.clipped],
    ['crushed', found.crushed, RANGE_COLOURS.crushed],
    ['out of gamut', found.gamut, RANGE_COLOURS.gamut],
  ] as const;
  return (
    <Box
      data-testid="out-of-range"
      sx={{
        position: 'absolute',
        right: 8,
        bottom: 8,
        display: 'flex',
        gap: 1,
        px: 0.75,
        py: 0.25,
        bgcolor: 'background.default',
        fontSize: 11,
        pointerEvents: 'none',
      }}
    >
      {entries.map(([name, amount, colour]) => (
        <Box key={name} sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
          <Box sx={{ width: 9, height: 9, bgcolor: `rgb(${colour.join(', ')})` }} />
          {name}
          <Box component="span" sx={{ fontFamily: 'var(--figures)', color: 'text.secondary' }}>
            {share(amount)}
          </Box>
        </Box>
      ))}
    </Box>
  );
}
