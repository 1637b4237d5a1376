'use client';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { useEffect, useRef } from 'react';
import { namedPath, getSetting } from '../../../core/look/look';
import type { GhostRow } from '../../../core/stations/ghosts/queries';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { Pill } from '../../common';
import { Rows } from '../../controls';
import { useGhostTable } from '../use-ghosts';

const CELL = 32;
const pairPath = (name: string, setting: string): string => namedPath('ghosts.pairs', name, setting);

/** Every ghost of the lens, the brightest first: which are shown, their pictures, and what is made of each. */
export function GhostList() {
  const table = useGhostTable();
  const chosen = useDesk((state) => state.ghost);
  const set = useDesk((state) => state.set);
  if (!table) return <Box sx={{ fontSize: 11, color: 'text.secondary' }}>Switch Ghosts on to see them.</Box>;
  const kept = table.rows.filter(({ isKept }) => isKept).length;
  return (
    <Box data-testid="ghost-table">
      <Box sx={{ fontFamily: 'var(--figures)', fontSize: 10.5, color: 'text.secondary', pb: 0.5 }}>
        {kept} of {table.rows.length} shown
        {table.light && `, ${percent(table.shown)} of the light of ${table.light}`}
      </Box>
      <Box sx={{ maxHeight: 264, overflowY: 'auto' }} tabIndex={-1}>
        {table.rows.map((row, k) => (
          <GhostItem
            key={row.name}
            row={row}
            sheet={table.sheet}
            index={k}
            isChosen={row.name === chosen}
            onChoose={() => set({ ghost: row.name === chosen ? null : row.name })}
          />
        ))}
      </Box>
    </Box>
  );
}

const percent = (share: number): string => `${Number((share * 100).toPrecision(2))} %`;

function GhostItem({
  row,
  sheet,
  index,
  isChosen,
  onChoose,
}: {
  row: GhostRow;
  sheet: ImageBitmap;
  index: number;
  isChosen: boolean;
  onChoose: () => void;
}) {
  const { name, isKept, size, stops } = row;
  const change = useShot((state) => state.change);
  const on = useShot((state) => getSetting(state.look, pairPath(name, 'on')) as boolean);
  const solo = useShot((state) => getSetting(state.look, pairPath(name, 'solo')) as boolean);
  const item = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (isChosen) item.current?.scrollIntoView({ block: 'nearest' });
  }, [isChosen]);
  return (
    <Box ref={item} sx={{ opacity: isKept || isChosen ? 1 : 0.5 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75, minHeight: 34 }}>
        <ButtonBase
          aria-label={`Ghost ${name}`}
          aria-pressed={isChosen}
          onClick={onChoose}
          sx={{
            flex: 1,
            justifyContent: 'flex-start',
            gap: 0.75,
            borderRadius: 0.5,
            border: '1px solid',
            borderColor: isChosen ? 'primary.main' : 'transparent',
          }}
        >
          <Thumbnail sheet={sheet} index={index} />
          <Box sx={{ width: 40, textAlign: 'left' }}>{name}</Box>
          <Box
            sx={{
              flex: 1,
              textAlign: 'right',
              fontFamily: 'var(--figures)',
              fontSize: 10.5,
              color: 'text.secondary',
              pr: 0.5,
            }}
          >
            {(size * 100).toFixed(size < 0.1 ? 1 : 0)} % h
            <br />
            {Number.isFinite(stops) ? `${stops.toFixed(1)} st` : 'none'}
          </Box>
        </ButtonBase>
        <Pill
          role="switch"
          on={on}
          label={on ? 'on' : 'off'}
          name={`Ghost ${name} on`}
          onClick={() => change(pairPath(name, 'on'), !on)}
        />
        <Pill
          on={solo}
          label="solo"
          name={`Ghost ${name} solo`}
          onClick={() => change(pairPath(name, 'solo'), !solo)}
        />
      </Box>
      {isChosen && (
        <Box sx={{ pl: 1, borderLeft: '1px solid', borderColor: 'divider', mb: 0.5 }}>
          <Rows paths={[pairPath(name, 'gain'), pairPath(name, 'tint')]} />
        </Box>
      )}
    </Box>
  );
}

/** One square of the sheet. */
function Thumbnail({ sheet, index }: { sheet: ImageBitmap; index: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    context.clearRect(0, 0, CELL, CELL);
    context.drawImage(sheet, index * CELL, 0, CELL, CELL, 0, 0, CELL, CELL);
  }, [sheet, index]);
  return <canvas ref={canvas} width={CELL} height={CELL} aria-hidden style={{ width: CELL, height: CELL }} />;
}
