'use client';
import BalanceOutlined from '@mui/icons-material/BalanceOutlined';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TableSortLabel from '@mui/material/TableSortLabel';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';
import type { Weight } from '../../core/bench/weigh';
import { getSetting, STATION_LABELS } from '../../core/look/look';
import { useDesk } from '../../state/desk-store';
import { useShot } from '../../state/shot-store';
import { CornerPopover, Pill } from '../common';
import { useLatest } from '../controls';
import { askBench, usePlates } from '../session';

/** Less than this in stops is not seen. */
const UNSEEN = 0.02;

type Column = 'label' | 'share' | 'stops' | 'milliseconds';

const COLUMNS: readonly { id: Column; title: string; help: string }[] = [
  { id: 'label', title: 'Without', help: 'What is left out' },
  { id: 'share', title: 'Light', help: "Of the final's light, what would be missing where it is now" },
  { id: 'stops', title: 'Largest change', help: 'How much of it a pixel would miss at most, and where' },
  { id: 'milliseconds', title: 'Time', help: 'What it costs at the size at which it was weighed' },
];

/** How much a row counts in a column; by name the order is that of the light. */
function rank(column: Column, weight: Weight): number {
  return column === 'label' ? 0 : Math.abs(weight[column] ?? 0);
}

/** Opens the table of what each part of the look still does to the picture. */
export function WeighTable() {
  return (
    <CornerPopover
      title="What still matters"
      name="What still matters"
      tooltip="What still matters: the final without each pass, element and part"
      button={<BalanceOutlined sx={{ fontSize: 15 }} />}
      colour="text.secondary"
      top={38}
      width={560}
    >
      {() => <Weights />}
    </CornerPopover>
  );
}

/** Each thing that the picture is made with, weighed anew as long as the table is open. */
function Weights() {
  const activePlate = useShot((state) => state.activePlate);
  const plate = usePlates((state) => (activePlate ? state.cards[activePlate]?.id : undefined));
  const look = useShot((state) => state.look);
  const starts = useDesk((state) => state.engineStarts);
  const isResting = useDesk((state) => state.phase === 'final' && !state.dragging);
  const key = plate && isResting ? JSON.stringify([starts, plate, look]) : undefined;
  const ask = (timed: boolean) => async (): Promise<{ rows: Weight[]; of: string | undefined }> => {
    const request = { look: useShot.getState().look, input: { timed }, plate: plate! };
    const { weights: rows } = await askBench({ name: 'weighLook', ...request });
    return { rows, of: key };
  };
  const weights = useLatest(key, ask(false));
  // Times take longer, and come after.
  const timed = useLatest(weights?.of === key ? key : undefined, ask(true));
  const times = new Map(timed?.rows.map(({ path, milliseconds }) => [path, milliseconds]));
  const [column, setColumn] = useState<Column>('stops');
  if (!plate) return <Note>Bring in a plate first.</Note>;
  if (!weights) return <Note>Weighing …</Note>;
  if (weights.rows.length === 0) return <Note>There is nothing in this look that could be left out.</Note>;
  const rows = weights.rows
    .map((row) => ({ ...row, milliseconds: times.get(row.path) }))
    .sort((a, b) => rank(column, b) - rank(column, a));
  return (
    <>
      <Table size="small" sx={{ opacity: weights.of === key ? 1 : 0.6, td: { px: 0.75 }, th: { px: 0.75 } }}>
        <TableHead>
          <TableRow>
            {COLUMNS.map(({ id, title, help }) => (
              <TableCell
                key={id}
                align={id === 'label' ? 'left' : 'right'}
                sortDirection={id === column ? 'desc' : false}
              >
                <Tooltip title={help}>
                  <TableSortLabel
                    active={id === column}
                    direction="desc"
                    onClick={() => setColumn(id)}
                    sx={{ fontSize: 12 }}
                  >
                    {title}
                  </TableSortLabel>
                </Tooltip>
              </TableCell>
            ))}
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((row) => (
            <WeightRow key={row.path} row={row} />
          ))}
        </TableBody>
      </Table>
      <Note>
        {rows.some(({ stops }) => Math.abs(stops) < UNSEEN)
          ? 'What is grey could be left out without anyone seeing it.'
          : 'Everything here is seen.'}
      </Note>
    </>
  );
}

function Note({ children }: { children: React.ReactNode }) {
  return <Box sx={{ py: 0.5, fontSize: 12, color: 'text.secondary' }}>{children}</Box>;
}

function WeightRow({ row }: { row: Weight }) {
  const { path, label, station, share, stops, x, y, milliseconds } = row;
  const change = useShot((state) => state.change);
  const set = useDesk((state) => state.set);
  const on = useShot((state) => getSetting(state.look, path) === true);
  const figures = { fontFamily: 'var(--figures)', fontSize: 11, whiteSpace: 'nowrap' } as const;
  return (
    <TableRow data-testid={`weight ${path}`} sx={{ opacity: Math.abs(stops) < UNSEEN ? 0.55 : 1 }}>
      <TableCell>
        <ButtonBase
          aria-label={`Show ${label}`}
          onClick={() => set({ station, revealed: path })}
          sx={{ minHeight: 24, textAlign: 'left', font: 'inherit' }}
        >
          {label === STATION_LABELS[station] || station === 'plate'
            ? label
            : `${STATION_LABELS[station]} · ${label}`}
        </ButtonBase>
      </TableCell>
      <TableCell align="right" sx={figures}>
        {(share * 100).toFixed(2)} %
      </TableCell>
      <TableCell align="right" sx={figures}>
        {Math.abs(stops) < UNSEEN
          ? 'not seen'
          : `${stops > 0 ? '+' : ''}${stops.toFixed(1)} st at ${x}, ${y}`}
      </TableCell>
      <TableCell align="right" sx={figures}>
        {milliseconds === undefined ? '…' : `${milliseconds.toFixed(0)} ms`}
      </TableCell>
      <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
        <Solo row={row} />
        <Pill
          role="switch"
          on={on}
          label={on ? 'on' : 'off'}
          name={`${label} on`}
          onClick={() => change(path, !on)}
        />
      </TableCell>
    </TableRow>
  );
}

/** Shows a part by itself, or makes a pass the only one of the sum. */
function Solo({ row: { path, label } }: { row: Weight }) {
  const base = path.slice(0, -'.on'.length);
  const isPass = base.includes('.passes.');
  const change = useShot((state) => state.change);
  const solo = useShot((state) => isPass && getSetting(state.look, `${base}.solo`) === true);
  const subject = useDesk((state) => state.subject);
  const set = useDesk((state) => state.set);
  if (!isPass && !/^(veil\.|film\.halation)/.test(base)) return null;
  const isAlone = isPass ? solo : subject.kind === 'separation' && subject.name === base;
  return (
    <Pill
      on={isAlone}
      label="solo"
      name={`${label} solo`}
      onClick={() => {
        if (isPass) change(`${base}.solo`, !solo);
        else set({ subject: isAlone ? { kind: 'final' } : { kind: 'separation', name: base } });
      }}
    />
  );
}
