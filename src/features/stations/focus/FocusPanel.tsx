'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Tooltip from '@mui/material/Tooltip';
import {
  canFocus,
  fieldOfView,
  hyperfocal,
  pupilDiameter,
  sensorPart,
  sharpLimits,
} from '../../../core/optics/camera';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { FileButton } from '../../common';
import { reportError, takeFrameCameras, takeSceneCamera, usePlates } from '../../session';
import { Group, ROW_COLUMNS, Rows, SELECT_SX, pathsBelow, useSought } from '../../controls';
import { BlurReport, SuggestedRange, useBlurFacts } from './BlurReport';
import { DepthView } from './DepthView';
import { PlanView } from './PlanView';
import { PullFocus } from './PullFocus';
import { WishedDisc } from './WishedDisc';

const camera = pathsBelow('camera');
const blur = pathsBelow('focus', ['on']);
/** Of use only for a normalised depth. */
const range = ['near', 'far', 'white'].map((name) => `focus.depth.${name}`);
const depth = pathsBelow('focus.depth');

export const FOCUS_COVERS = [...camera, ...blur, ...depth];

/** Sensors by size, width and height in mm (common practice). */
const SENSORS: readonly { label: string; width: number; height: number }[] = [
  { label: '54 x 40 (medium format)', width: 54, height: 40 },
  { label: '36 x 24 (full frame)', width: 36, height: 24 },
  { label: '36 x 20.25 (full frame, 16:9)', width: 36, height: 20.25 },
  { label: '24.9 x 18.7 (35 mm film, full gate)', width: 24.9, height: 18.7 },
  { label: '23.6 x 15.7', width: 23.6, height: 15.7 },
  { label: '17.3 x 13', width: 17.3, height: 13 },
  { label: '13.2 x 8.8', width: 13.2, height: 8.8 },
  { label: '12.5 x 7.4 (16 mm film, wide)', width: 12.5, height: 7.4 },
];

/** The camera with what follows from it, the blur, and how the depth is read. */
export function FocusPanel() {
  const reading = useShot((state) => state.look.focus.depth.reading);
  const isSought = useSought(range);
  const facts = useBlurFacts();
  return (
    <>
      <Group title="Camera" paths={camera}>
        <FileCamera />
        <SensorChoice />
        <Rows paths={camera} />
        <CameraFacts />
        <FocusTools />
        <PullFocus />
      </Group>
      <Group title="Plan view">
        <PlanView />
      </Group>
      <Group title="Blur" paths={blur}>
        <Rows paths={blur} />
        <BlurReport facts={facts} />
        <WishedDisc />
      </Group>
      <Group title="Depth" paths={depth}>
        <Rows
          paths={reading === 'normalised' || isSought ? depth : depth.filter((path) => !range.includes(path))}
        />
        <DepthView />
        <SuggestedRange facts={facts} />
      </Group>
    </>
  );
}

const TAKE = {
  size: 'small',
  variant: 'outlined',
  color: 'inherit',
  fullWidth: true,
  sx: { mb: 0.5 },
} as const;

/** Offers the camera that the plate's file speaks of, if it is another than the present one. */
function FileCamera() {
  const activePlate = useShot((state) => state.activePlate);
  const told = usePlates((state) => (activePlate ? state.cards[activePlate]?.camera : undefined));
  const lens = useShot((state) => state.look.camera);
  const takeCamera = useShot((state) => state.takeCamera);
  const isSequence = useShot((state) => {
    const plate = state.plates.find(({ id }) => id === state.activePlate);
    return (plate?.versions[plate.version]?.frames.length ?? 0) > 1;
  });
  const names = Object.keys(told ?? {}) as (keyof typeof lens)[];
  const isTaken = names.every((name) => told![name] === lens[name]);
  return (
    <>
      {!isTaken && (
        <Button {...TAKE} onClick={() => takeCamera(told!)}>
          Take the camera of the file
        </Button>
      )}
      {isSequence && names.length > 0 && (
        <Button {...TAKE} onClick={() => void takeFrameCameras().catch(reportError)}>
          Take the camera of every frame
        </Button>
      )}
      <FileButton
        label="Camera from a scene"
        name="File of the scene"
        accept=".gltf,.glb"
        onFile={(file) => void takeSceneCamera(file)}
      />
    </>
  );
}

function SensorChoice() {
  const { sensorWidth, sensorHeight } = useShot((state) => state.look.camera);
  const known = SENSORS.findIndex(({ width, height }) => width === sensorWidth && height === sensorHeight);
  return (
    <Box sx={ROW_COLUMNS}>
      <span>Sensor</span>
      <Select
        value={known}
        onChange={(event) => {
          const sensor = SENSORS[Number(event.target.value)];
          const { look, setLook } = useShot.getState();
          if (sensor)
            setLook({
              ...look,
              camera: { ...look.camera, sensorWidth: sensor.width, sensorHeight: sensor.height },
            });
        }}
        variant="outlined"
        inputProps={{ 'aria-label': 'Sensor' }}
        sx={{ ...SELECT_SX, gridColumn: '2 / 4' }}
      >
        {SENSORS.map(({ label }, index) => (
          <MenuItem key={label} value={index} dense>
            {label}
          </MenuItem>
        ))}
        <MenuItem value={-1} dense disabled>
          of its own
        </MenuItem>
      </Select>
      <span />
    </Box>
  );
}

const metres = (value: number): string =>
  Number.isFinite(value) ? `${Number(value.toPrecision(4))} m` : 'infinity';

/** What the lens makes of these numbers. */
function CameraFacts() {
  const activePlate = useShot((state) => state.activePlate);
  const lens = useShot((state) => state.look.camera);
  const frame = usePlates(({ cards }) => (activePlate ? cards[activePlate]?.frame : undefined));
  const { near, far } = sharpLimits(lens);
  const part = frame && sensorPart(lens, frame.width / frame.height);
  const { horizontal, vertical } = fieldOfView(lens, part);
  const isWhole = !part || Math.abs(part.height / lens.sensorHeight - 1) < 0.005;
  const facts: [string, string][] = [
    ['sharp', canFocus(lens) ? `${metres(near)} to ${metres(far)}` : 'nowhere: within the focal length'],
    ['hyperfocal', metres(hyperfocal(lens))],
    ['view', `${horizontal.toFixed(1)} deg across, ${vertical.toFixed(1)} high`],
    ...(isWhole
      ? []
      : [['of sensor', `${part.width.toFixed(1)} x ${part.height.toFixed(1)} mm`] as [string, string]]),
    ['pupil', `${pupilDiameter(lens).toFixed(1)} mm`],
  ];
  return (
    <Box data-testid="camera-facts" sx={{ pt: 0.5, fontSize: 11 }}>
      {facts.map(([name, value]) => (
        <Box key={name} sx={{ display: 'flex', minHeight: 18 }}>
          <Box sx={{ width: 92, color: 'text.secondary' }}>{name}</Box>
          <Box sx={{ fontFamily: 'var(--figures)' }}>{value}</Box>
        </Box>
      ))}
    </Box>
  );
}

/** Puts the focus on what is clicked, and shows what is sharp. */
function FocusTools() {
  const picking = useDesk((state) => state.picking);
  const overblur = useDesk((state) => state.overblur);
  const shown = useDesk((state) => state.subject.kind === 'sharpness');
  const grain = useDesk((state) => state.subject.kind === 'grain');
  const set = useDesk((state) => state.set);
  return (
    <Box sx={{ display: 'flex', gap: 0.5, pt: 0.75 }}>
      <Tooltip title="The next click on the picture puts the focus on what is there">
        <Button
          {...TOOL}
          color={picking === 'focus' ? 'primary' : 'inherit'}
          aria-pressed={picking === 'focus'}
          onClick={() => set({ picking: picking === 'focus' ? null : 'focus' })}
        >
          Click to focus
        </Button>
      </Tooltip>
      <Tooltip title="Exaggerates the blur while it is pressed, so that what stays sharp is the focus (hold B)">
        <Button
          {...TOOL}
          color={overblur ? 'primary' : 'inherit'}
          aria-pressed={overblur}
          onPointerDown={() => set({ overblur: true })}
          onPointerUp={() => set({ overblur: false })}
          onPointerLeave={() => set({ overblur: false })}
          onBlur={() => set({ overblur: false })}
          onKeyDown={(event) => {
            if (event.key !== ' ' && event.key !== 'Enter') return;
            event.preventDefault();
            set({ overblur: true });
          }}
          onKeyUp={() => set({ overblur: false })}
        >
          Overblur
        </Button>
      </Tooltip>
      <Tooltip title="Green is sharp, amber lies before it, blue behind (O)">
        <Button
          {...TOOL}
          color={shown ? 'primary' : 'inherit'}
          aria-pressed={shown}
          onClick={() => set({ subject: { kind: shown ? 'final' : 'sharpness' } })}
        >
          In focus
        </Button>
      </Tooltip>
      <Tooltip title="At 100 %: draws out the noise and bands of the render, and compares what is sharp with what is blurred">
        <Button
          {...TOOL}
          color={grain ? 'primary' : 'inherit'}
          aria-pressed={grain}
          onClick={() =>
            set(grain ? { subject: { kind: 'final' } } : { subject: { kind: 'grain' }, zoom: 1 })
          }
        >
          Noise
        </Button>
      </Tooltip>
    </Box>
  );
}

const TOOL = {
  size: 'small',
  variant: 'outlined',
  sx: { flex: '1 1 auto', minWidth: 0, px: 0.75, whiteSpace: 'nowrap' },
} as const;
