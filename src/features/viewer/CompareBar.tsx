'use client';
import Close from '@mui/icons-material/Close';
import SwapHoriz from '@mui/icons-material/SwapHoriz';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Tooltip from '@mui/material/Tooltip';
import { matchPatches } from '../../core/color/match';
import type { NumberMeta } from '../../core/settings/setting';
import { benchEngine } from '../../engine/browser/client';
import { useDesk, type CompareMode, type CompareTarget } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { Pill } from '../common';
import { NumberField, SELECT_SX, type NumberSetting } from '../controls';
import { notify, putBack, reportError } from '../session';
import { endCompare, swapCompared, toggleMeasuring } from './compared';
import { LookDifferences } from './LookDifferences';

/** A number of the tools beside the picture, which is no setting of the look. */
function toolNumber(
  group: string,
  label: string,
  of: Pick<NumberMeta, 'unit' | 'min' | 'max' | 'step' | 'default'>,
  digits: number,
): NumberSetting {
  const { unit } = of;
  const shown = { factor: 1, unit: unit === 'stops' ? 'st' : unit, digits };
  return { kind: 'number', path: label, group, label, help: label, scale: 'linear', shown, ...of };
}

const EXPOSURE = toolNumber(
  'Reference',
  'exposure',
  { unit: 'stops', min: -20, max: 20, step: 0.1, default: 0 },
  1,
);
const SECONDS = toolNumber('Blink', 'seconds', { unit: 's', min: 0.1, max: 5, step: 0.1, default: 0.8 }, 1);
const GAIN = toolNumber('Difference', 'gain', { unit: 'stops', min: -6, max: 16, step: 1, default: 0 }, 1);

const MODES: readonly { mode: CompareMode; label: string }[] = [
  { mode: 'wipe', label: 'wipe' },
  { mode: 'blink', label: 'blink' },
  { mode: 'beside', label: 'side by side' },
  { mode: 'difference', label: 'difference' },
];

const PRESENT = 'present';
const keyOf = (target: CompareTarget): string => JSON.stringify(target);

/** How the picture is held against something else, over the line of values; gone while it is not. */
export function CompareBar() {
  const compare = useDesk((state) => state.compare);
  const shownProof = useDesk((state) => state.shownProof);
  const against = useDesk((state) => state.against);
  const set = useDesk((state) => state.set);
  const proofs = useShot((state) => state.proofs);
  if (compare === null && shownProof === null) return null;
  const isLook = against.kind === 'plate' || against.kind === 'present' || against.kind === 'proof';
  const proof = against.kind === 'proof' ? proofs.find(({ id }) => id === against.id) : undefined;
  return (
    <Box
      role="group"
      aria-label="Compare"
      sx={{
        minHeight: 30,
        px: 1.5,
        display: 'flex',
        flexWrap: 'wrap',
        alignItems: 'center',
        gap: 0.75,
        borderTop: '1px solid',
        borderColor: 'divider',
        bgcolor: 'background.default',
        fontSize: 11,
      }}
    >
      {proofs.length > 0 && (
        <Select
          value={shownProof ?? PRESENT}
          onChange={(event) =>
            set({ shownProof: event.target.value === PRESENT ? null : event.target.value })
          }
          inputProps={{ 'aria-label': 'Shown' }}
          sx={{ ...SELECT_SX, fontSize: 11, maxWidth: 130 }}
        >
          <MenuItem dense value={PRESENT}>
            present look
          </MenuItem>
          {proofs.map(({ id, name }) => (
            <MenuItem dense key={id} value={id}>
              {name}
            </MenuItem>
          ))}
        </Select>
      )}
      <Against />
      {isLook && against.kind !== 'plate' && (
        <Tooltip title="Swap the two (X)">
          <IconButton size="small" aria-label="Swap the two" onClick={swapCompared} sx={{ p: 0.25 }}>
            <SwapHoriz sx={{ fontSize: 16 }} />
          </IconButton>
        </Tooltip>
      )}
      {MODES.filter(({ mode }) => mode !== 'difference' || isLook).map(({ mode, label }) => (
        <Pill
          key={mode}
          on={compare === mode}
          label={label}
          name={`Compare: ${label}`}
          onClick={() => set({ compare: mode, subject: { kind: 'final' } })}
        />
      ))}
      {compare === 'blink' && <Tool number="blinkSeconds" setting={SECONDS} />}
      {compare === 'difference' && <DifferenceFigures />}
      {against.kind === 'reference' && <ReferenceTools id={against.id} />}
      {(proof ?? against.kind === 'present') && <LookDifferences />}
      {proof && (
        <Button size="small" color="inherit" onClick={() => putBack(proof)} sx={{ fontSize: 11, py: 0 }}>
          Put {proof.name} back
        </Button>
      )}
      <ScopesSide />
      <Box sx={{ flex: 1 }} />
      <IconButton size="small" aria-label="End comparing" onClick={endCompare} sx={{ p: 0.25 }}>
        <Close sx={{ fontSize: 14 }} />
      </IconButton>
    </Box>
  );
}

function Tool({ number, setting }: { number: 'blinkSeconds' | 'differenceGain'; setting: NumberSetting }) {
  const value = useDesk((state) => state[number]);
  const set = useDesk((state) => state.set);
  return (
    <Box sx={{ width: 72 }}>
      <NumberField setting={setting} value={value} onChange={(next) => set({ [number]: next })} />
    </Box>
  );
}

/** What the picture is held against. */
function Against() {
  const against = useDesk((state) => state.against);
  const shownProof = useDesk((state) => state.shownProof);
  const set = useDesk((state) => state.set);
  const plate = useShot((state) => state.plates.find(({ id }) => id === state.activePlate));
  const proofs = useShot((state) => state.proofs);
  const references = useShot((state) => state.references);
  if (!plate) return null;
  const versions = plate.versions.flatMap((_, version) =>
    version === plate.version
      ? []
      : [{ target: { kind: 'version' as const, plate: plate.id, version }, label: `version ${version + 1}` }],
  );
  const options: { target: CompareTarget; label: string }[] = [
    { target: { kind: 'plate' }, label: 'the plate' },
    ...(shownProof === null ? [] : [{ target: { kind: 'present' as const }, label: 'present look' }]),
    ...versions,
    ...proofs
      .filter(({ id }) => id !== shownProof)
      .map(({ id, name }) => ({ target: { kind: 'proof' as const, id }, label: name })),
    ...references.map(({ id, name }) => ({ target: { kind: 'reference' as const, id }, label: name })),
  ];
  const chosen = options.find(({ target }) => keyOf(target) === keyOf(against)) ?? options[0]!;
  return (
    <Select
      value={keyOf(chosen.target)}
      onChange={(event) => {
        const next = JSON.parse(event.target.value) as CompareTarget;
        const { compare } = useDesk.getState();
        const fits =
          compare !== 'difference' ||
          next.kind === 'plate' ||
          next.kind === 'proof' ||
          next.kind === 'present';
        set({ against: next, compare: fits ? compare : 'wipe' });
      }}
      inputProps={{ 'aria-label': 'Held against' }}
      sx={{ ...SELECT_SX, fontSize: 11, maxWidth: 150 }}
    >
      {options.map(({ target, label }) => (
        <MenuItem dense key={keyOf(target)} value={keyOf(target)}>
          against {label}
        </MenuItem>
      ))}
    </Select>
  );
}

/** By how much the difference is raised, and how large it is. */
function DifferenceFigures() {
  const difference = useDesk((state) => state.report?.difference);
  return (
    <>
      <Tool number="differenceGain" setting={GAIN} />
      {difference && (
        <Box
          component="span"
          data-testid="difference"
          sx={{ fontFamily: 'var(--figures)', whiteSpace: 'nowrap' }}
        >
          largest {Number(difference.max.toPrecision(3))}, mean {Number(difference.mean.toPrecision(3))}
        </Box>
      )}
    </>
  );
}

/** Which of the two the scopes are of, while they are there. */
function ScopesSide() {
  const scopes = useDesk((state) => state.scopes);
  const compare = useDesk((state) => state.compare);
  const side = useDesk((state) => state.scopesOf);
  const set = useDesk((state) => state.set);
  if (!scopes || compare === null || compare === 'difference') return null;
  return (
    <Pill
      on={side === 'compared'}
      label="scopes of it"
      name="Scopes of what the picture is held against"
      onClick={() => set({ scopesOf: side === 'shown' ? 'compared' : 'shown' })}
    />
  );
}

/** The exposure and white of a reference, and what matches them to the picture. */
function ReferenceTools({ id }: { id: string }) {
  const references = useShot((state) => state.references);
  const setReferences = useShot((state) => state.setReferences);
  const patches = useDesk((state) => state.patches);
  const circles = useDesk((state) => state.circles);
  const compare = useDesk((state) => state.compare);
  const set = useDesk((state) => state.set);
  const reference = references.find((one) => one.id === id);
  if (!reference) return null;
  const change = (next: Partial<typeof reference>): void =>
    setReferences(references.map((one) => (one === reference ? { ...one, ...next } : one)));
  const isNeutral = reference.white.every((gain) => gain === 1);
  const match = async (): Promise<void> => {
    const { shown, compared } = patches ?? {};
    if (!shown || !compared) return;
    const engine = benchEngine();
    const [picture, photo] = [
      await engine.readPatch('shown', shown),
      await engine.readPatch('compared', compared),
    ];
    const found = picture && photo && matchPatches(picture, photo);
    if (!found)
      return notify('a patch is black in one of its channels: draw it where there is light', 'warning');
    const exposure = Math.min(20, Math.max(-20, Number(found.exposure.toFixed(3))));
    change({ exposure, white: found.white });
    set({ patches: null });
  };
  return (
    <>
      <Box sx={{ width: 76 }}>
        <NumberField
          setting={EXPOSURE}
          value={reference.exposure}
          onChange={(next) => change({ exposure: next })}
        />
      </Box>
      {compare === 'beside' && (
        <Tooltip title="Draw a patch on the picture and one on the reference that are to look alike">
          <span>
            <Pill
              on={patches !== null}
              label="match patches"
              name="Match by patches"
              onClick={() => set({ patches: patches ? null : {}, circles: null })}
            />
          </span>
        </Tooltip>
      )}
      <Tooltip title="Measure the light about a lamp of the reference (L)">
        <span>
          <Pill
            on={circles !== null && compare === 'beside'}
            label="measure a light"
            name="Measure a light"
            onClick={toggleMeasuring}
          />
        </span>
      </Tooltip>
      {patches?.shown && patches.compared && (
        <Button size="small" onClick={() => void match().catch(reportError)} sx={{ fontSize: 11, py: 0 }}>
          Match
        </Button>
      )}
      {patches && !(patches.shown && patches.compared) && (
        <Box component="span" role="status" sx={{ color: 'text.secondary' }}>
          draw a patch on {patches.shown ? 'the reference' : 'the picture'}
        </Box>
      )}
      {!isNeutral && (
        <Pill on label="white matched" name="Own white again" onClick={() => change({ white: [1, 1, 1] })} />
      )}
    </>
  );
}
