'use client';
import Add from '@mui/icons-material/Add';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { useState } from 'react';
import { isDrawn, type Mask, type MaskShape, type ShapeKind } from '../../../core/settings/mask';
import { withoutMask } from '../../../core/look/look';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { useMattes } from '../../session';
import { SELECT_SX } from '../../controls';
import { Pill, TextField } from '../../common';
import { NameChoice } from './NameChoice';
import { ValueChoice } from './ValueChoice';

const KINDS: readonly { kind: ShapeKind; label: string }[] = [
  { kind: 'ellipse', label: 'Ellipse' },
  { kind: 'polygon', label: 'Polygon' },
  { kind: 'gradient', label: 'Gradient' },
  { kind: 'matte', label: 'Matte pass' },
  { kind: 'value', label: 'By value' },
];

function newShape(kind: ShapeKind, mattes: readonly string[]): MaskShape {
  const common = { combine: 'add', invert: false } as const;
  switch (kind) {
    case 'ellipse':
      return { kind, centre: [0.5, 0.5], radii: [0.35, 0.25], rotation: 0, feather: 0.1, ...common };
    case 'polygon': {
      const points: [number, number][] = [
        [0.35, 0.3],
        [0.65, 0.3],
        [0.7, 0.7],
        [0.3, 0.7],
      ];
      return { kind, points, feather: 0.05, ...common };
    }
    case 'gradient':
      return { kind, from: [0.5, 0.3], to: [0.5, 0.7], ...common };
    case 'matte':
      return { kind, channel: mattes[0] ?? 'matte', id: null, ...common };
    case 'value':
      return { kind, of: 'luminance', pass: 'beauty', from: 1, to: null, soft: 1, ...common };
  }
}

/** The look's masks. The chosen one has its handles on the picture. */
export function MaskList() {
  const masks = useShot((state) => state.look.masks);
  const change = useShot((state) => state.change);
  const chosen = useDesk((state) => state.mask);
  const set = useDesk((state) => state.set);
  const add = (): void => {
    const ids = new Set(masks.map(({ id }) => id));
    let number = masks.length + 1;
    while (ids.has(`mask${number}`)) number++;
    const id = `mask${number}`;
    change('masks', [
      ...masks,
      { id, name: `Mask ${number}`, invert: false, shapes: [newShape('ellipse', [])] },
    ]);
    set({ mask: id, pen: { mask: id, shape: 0 } });
  };
  return (
    <Box>
      {masks.map((mask) => (
        <MaskItem key={mask.id} mask={mask} open={mask.id === chosen} />
      ))}
      <Button size="small" color="inherit" startIcon={<Add />} onClick={add} sx={{ color: 'text.secondary' }}>
        New mask
      </Button>
    </Box>
  );
}

function MaskItem({ mask, open }: { mask: Mask; open: boolean }) {
  const { change, setLook } = useShot.getState();
  const subject = useDesk((state) => state.subject);
  const set = useDesk((state) => state.set);
  const shown = subject.kind === 'mask' && subject.mask === mask.id;
  const put = (next: Mask): void =>
    change(
      'masks',
      useShot.getState().look.masks.map((one) => (one.id === mask.id ? next : one)),
    );
  const remove = (): void => {
    // What was held to the mask is held to none any more: one step to undo.
    setLook(withoutMask(useShot.getState().look, mask.id));
    set({ mask: null, pen: null, ...(shown && { subject: { kind: 'final' } }) });
  };
  return (
    <Box sx={{ pb: 0.5 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, minHeight: 28 }}>
        <ButtonBase
          aria-expanded={open}
          onClick={() => set({ mask: open ? null : mask.id, pen: null })}
          sx={{ flex: 1, justifyContent: 'flex-start', color: open ? 'primary.main' : undefined }}
        >
          {mask.name}
        </ButtonBase>
        <Pill
          label="Invert"
          name={`${mask.name} inverted`}
          on={mask.invert}
          onClick={() => put({ ...mask, invert: !mask.invert })}
        />
        <Pill
          label="Show"
          name={`Show ${mask.name}`}
          on={shown}
          onClick={() => set({ subject: shown ? { kind: 'final' } : { kind: 'mask', mask: mask.id } })}
        />
        <IconButton size="small" aria-label={`Remove ${mask.name}`} onClick={remove} sx={{ p: 0.625 }}>
          <Close sx={{ fontSize: 14 }} />
        </IconButton>
      </Box>
      {open && (
        <Box sx={{ pl: 1, borderLeft: '1px solid', borderColor: 'primary.main' }}>
          <TextField
            label={`Name of ${mask.name}`}
            value={mask.name}
            problem={(text) =>
              text.trim() !== '' && text.length <= 100 ? undefined : 'a name of 1 to 100 letters'
            }
            onTake={(text) => put({ ...mask, name: text.trim() })}
          />
          {mask.shapes.map((shape, index) => (
            <ShapeItem
              key={index}
              shape={shape}
              label={`${mask.name}, shape ${index + 1}`}
              first={index === 0}
              onChange={(next) =>
                put({ ...mask, shapes: mask.shapes.map((one, i) => (i === index ? next : one)) })
              }
              onRemove={() => put({ ...mask, shapes: mask.shapes.filter((_, i) => i !== index) })}
            />
          ))}
          <AddShape
            onAdd={(shape) => {
              put({ ...mask, shapes: [...mask.shapes, shape] });
              if (isDrawn(shape)) set({ pen: { mask: mask.id, shape: mask.shapes.length } });
            }}
          />
        </Box>
      )}
    </Box>
  );
}

function AddShape({ onAdd }: { onAdd: (shape: MaskShape) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const mattes = useMattes();
  return (
    <>
      <Button
        size="small"
        color="inherit"
        startIcon={<Add />}
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ color: 'text.secondary' }}
      >
        Add a shape
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {KINDS.map(({ kind, label }) => (
          <MenuItem
            key={kind}
            dense
            disabled={kind === 'matte' && mattes.length === 0}
            onClick={() => {
              setAnchor(null);
              onAdd(newShape(kind, mattes));
            }}
          >
            {label}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

interface ShapeItemProps {
  shape: MaskShape;
  label: string;
  first: boolean;
  onChange: (shape: MaskShape) => void;
  onRemove: () => void;
}

/** A shape's figures, typed; every handle on the picture has its numbers here. */
function ShapeItem({ shape, label, first, onChange, onRemove }: ShapeItemProps) {
  const numbers = numbersOf(shape);
  return (
    <Box sx={{ py: 0.5 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, minHeight: 26 }}>
        <Box sx={{ flex: 1 }}>{KINDS.find(({ kind }) => kind === shape.kind)!.label}</Box>
        {!first && (
          <Select
            value={shape.combine}
            onChange={(event) => onChange({ ...shape, combine: event.target.value as MaskShape['combine'] })}
            variant="outlined"
            inputProps={{ 'aria-label': `${label} combined by` }}
            sx={{ ...SELECT_SX, width: 84 }}
          >
            {['add', 'subtract', 'intersect'].map((value) => (
              <MenuItem key={value} value={value} dense>
                {value}
              </MenuItem>
            ))}
          </Select>
        )}
        <Pill
          label="Invert"
          name={`${label} inverted`}
          on={shape.invert}
          onClick={() => onChange({ ...shape, invert: !shape.invert })}
        />
        <IconButton size="small" aria-label={`Remove ${label}`} onClick={onRemove} sx={{ p: 0.625 }}>
          <Close sx={{ fontSize: 14 }} />
        </IconButton>
      </Box>
      {shape.kind === 'matte' && <MatteChoice shape={shape} label={label} onChange={onChange} />}
      {shape.kind === 'value' && <ValueChoice shape={shape} label={label} onChange={onChange} />}
      {numbers && (
        <TextField
          label={`${label}: ${numbers.names}`}
          value={numbers.text}
          problem={(text) => (numbers.read(text) ? undefined : `numbers are wanted: ${numbers.names}`)}
          onTake={(text) => onChange(numbers.read(text)!)}
        />
      )}
      {numbers && <Box sx={{ fontSize: 11, color: 'text.secondary' }}>{numbers.names}</Box>}
    </Box>
  );
}

function MatteChoice({
  shape,
  label,
  onChange,
}: {
  shape: Extract<MaskShape, { kind: 'matte' }>;
  label: string;
  onChange: (shape: MaskShape) => void;
}) {
  const mattes = useMattes();
  return (
    <Box sx={{ display: 'flex', gap: 0.5 }}>
      <NameChoice
        label={`${label} channel`}
        names={mattes}
        value={shape.channel}
        onChange={(channel) => onChange({ ...shape, channel })}
      />
      <Box sx={{ width: 96 }}>
        <TextField
          label={`${label} id`}
          value={shape.id === null ? 'coverage' : String(shape.id)}
          problem={(text) =>
            text === 'coverage' || text === '' || Number.isFinite(Number(text))
              ? undefined
              : 'an id, or coverage'
          }
          onTake={(text) =>
            onChange({ ...shape, id: text === 'coverage' || text === '' ? null : Number(text) })
          }
        />
      </Box>
    </Box>
  );
}

interface Numbers {
  names: string;
  text: string;
  read: (text: string) => MaskShape | undefined;
}

/** A shape's figures as one line: places in percent of the frame, lengths in percent of its height. */
function numbersOf(shape: MaskShape): Numbers | undefined {
  const show = (values: readonly number[]): string =>
    values.map((value) => (value * 100).toFixed(1)).join(' ');
  const parse = (text: string, count: number): number[] | undefined => {
    const values = text
      .trim()
      .split(/[\s,;]+/)
      .map(Number);
    return values.length === count && values.every(Number.isFinite) ? values : undefined;
  };
  switch (shape.kind) {
    case 'ellipse':
      return {
        names: 'x y, radii, feather in %, turn in degrees',
        text: `${show([...shape.centre, ...shape.radii, shape.feather])} ${shape.rotation.toFixed(1)}`,
        read(text) {
          const v = parse(text, 6);
          if (!v || v[2]! <= 0 || v[3]! <= 0 || v[4]! < 0 || Math.abs(v[5]!) > 360) return undefined;
          const [x, y, rx, ry, feather] = v.map((value) => value / 100) as [
            number,
            number,
            number,
            number,
            number,
          ];
          return { ...shape, centre: [x, y], radii: [rx, ry], feather, rotation: v[5]! };
        },
      };
    case 'gradient':
      return {
        names: 'from x y, to x y in %',
        text: show([...shape.from, ...shape.to]),
        read(text) {
          const v = parse(text, 4)?.map((value) => value / 100);
          return v && { ...shape, from: [v[0]!, v[1]!], to: [v[2]!, v[3]!] };
        },
      };
    case 'polygon': {
      const count = 1 + 2 * shape.points.length;
      return {
        names: 'feather, then x y of each corner in %',
        text: show([shape.feather, ...shape.points.flat()]),
        read(text) {
          const v = parse(text, count)?.map((value) => value / 100);
          if (!v || v[0]! < 0) return undefined;
          const points = shape.points.map((_, i): [number, number] => [v[1 + 2 * i]!, v[2 + 2 * i]!]);
          return { ...shape, feather: v[0]!, points };
        },
      };
    }
    case 'matte':
    case 'value':
      return undefined;
  }
}
