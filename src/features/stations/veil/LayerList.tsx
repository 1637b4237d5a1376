'use client';
import Add from '@mui/icons-material/Add';
import ArrowDownward from '@mui/icons-material/ArrowDownward';
import ArrowUpward from '@mui/icons-material/ArrowUpward';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { parseLook, type Look } from '../../../core/look/look';
import { MOST_LAYERS } from '../../../core/stations/veil/settings';
import { useShot } from '../../../state/shot-store';
import { Pill } from '../../common';
import { Rows, useSought } from '../../controls';
import { SeparationTools } from './SeparationTools';

type Layers = Look['veil']['stack'];

const SETTINGS_OF_LAYER = ['amount', 'shape', 'radius', 'falloff', 'threshold', 'tint'];
/** A new layer is so many times as wide as the widest, over so many times its threshold (common practice). */
const [WIDER, HIGHER] = [3, 4];

function putLayers(next: readonly unknown[]): void {
  const { look, setLook } = useShot.getState();
  setLook(parseLook({ ...look, veil: { ...look.veil, stack: next } }));
}

/** Layers of bloom over each other: added, removed, put in order, each with its own settings. */
export function LayerList() {
  const layers = useShot((state) => state.look.veil.stack);
  const add = (): void => {
    const { bloom, feed } = useShot.getState().look.veil;
    const last = layers.at(-1) ?? { radius: bloom.radius, threshold: feed.threshold };
    putLayers([
      ...layers,
      {
        amount: 0.005,
        radius: Math.min(0.5, Number((last.radius * WIDER).toPrecision(3))),
        threshold: Math.min(10000, Number((last.threshold * HIGHER).toPrecision(3))),
      },
    ]);
  };
  return (
    <Box>
      {layers.map((layer, place) => (
        <LayerItem key={place} layers={layers} place={place} />
      ))}
      <Button
        data-list="veil.stack"
        size="small"
        color="inherit"
        startIcon={<Add />}
        disabled={layers.length >= MOST_LAYERS}
        onClick={add}
        sx={{ color: 'text.secondary' }}
      >
        New layer
      </Button>
    </Box>
  );
}

function LayerItem({ layers, place }: { layers: Layers; place: number }) {
  const change = useShot((state) => state.change);
  const { on, shape } = layers[place]!;
  const isSought = useSought(['veil.stack[i].falloff']);
  const name = `Layer ${place + 1}`;
  const path = `veil.stack[${place}]`;
  const move = (by: 1 | -1): void => {
    const next = [...layers];
    [next[place], next[place + by]] = [next[place + by]!, next[place]!];
    putLayers(next);
  };
  const buttons = [
    { label: `Move ${name} up`, icon: ArrowUpward, off: place === 0, press: () => move(-1) },
    {
      label: `Move ${name} down`,
      icon: ArrowDownward,
      off: place === layers.length - 1,
      press: () => move(1),
    },
    {
      label: `Remove ${name}`,
      icon: Close,
      off: false,
      press: () => putLayers(layers.filter((_, k) => k !== place)),
    },
  ];
  return (
    <Box component="section" aria-label={name} sx={{ pb: 1 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, minHeight: 28 }}>
        <Box sx={{ flex: 1 }}>{name}</Box>
        <Pill
          role="switch"
          on={on}
          label={on ? 'on' : 'off'}
          name={`${name} on`}
          onClick={() => change(`${path}.on`, !on)}
        />
        {buttons.map(({ label, icon: Icon, off, press }) => (
          <IconButton
            key={label}
            size="small"
            aria-label={label}
            disabled={off}
            onClick={press}
            sx={{ p: 0.5 }}
          >
            <Icon sx={{ fontSize: 14 }} />
          </IconButton>
        ))}
      </Box>
      <Box sx={{ pl: 1, borderLeft: '1px solid', borderColor: 'divider' }}>
        <Rows
          paths={SETTINGS_OF_LAYER.filter((key) => key !== 'falloff' || shape === 'power' || isSought).map(
            (key) => `${path}.${key}`,
          )}
        />
        <SeparationTools name={path} label={name} />
      </Box>
    </Box>
  );
}
