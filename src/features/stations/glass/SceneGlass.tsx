'use client';
import Box from '@mui/material/Box';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import { MATERIALS, parseGlassCode } from '../../../core/optics/glass';
import { setSetting } from '../../../core/look/look';
import { MOST_PIECES } from '../../../core/stations/glass/settings';
import { useShot } from '../../../state/shot-store';
import { TextField } from '../../common';
import { EntryList, pathsBelow, ROW_COLUMNS, Rows, SELECT_SX } from '../../controls';

const ROWS = pathsBelow('glass.scene').map((path) => path.split('.').at(-1)!);
const ROWS_OF_PIECE = ROWS.filter((key) => key !== 'on');

/** Glass in the scene: the first piece, and more of them, each within its matte. */
export function SceneGlass() {
  const pieces = useShot((state) => state.look.glass.pieces);
  return (
    <>
      <Piece path="glass.scene" rows={ROWS} />
      <EntryList
        path="glass.pieces"
        entries={pieces}
        most={MOST_PIECES}
        addLabel="More glass"
        nameOf={(index) => `Glass ${index + 2}`}
        newEntry={() => ({ on: true })}
      >
        {(index) => <Piece path={`glass.pieces[${index}]`} rows={ROWS_OF_PIECE} />}
      </EntryList>
      <Box sx={{ fontSize: 11, color: 'text.secondary', py: 0.5 }}>
        Light that came through the glass is parted; what is reflected inside it is not known and stays as it
        was rendered.
      </Box>
    </>
  );
}

function Piece({ path, rows }: { path: string; rows: readonly string[] }) {
  const split = rows.indexOf('index');
  const at = (keys: readonly string[]): string[] => keys.map((key) => `${path}.${key}`);
  return (
    <>
      <Rows paths={at(rows.slice(0, split))} />
      <Material path={path} />
      <Rows paths={at(rows.slice(split))} />
    </>
  );
}

type PiecePath = { index: number; abbe: number };

function usePiece(path: string): PiecePath {
  const place = /\[(\d+)\]$/.exec(path)?.[1];
  const index = useShot(
    ({ look: { glass } }) => (place ? glass.pieces[Number(place)] : glass.scene)?.index ?? 1,
  );
  const abbe = useShot(
    ({ look: { glass } }) => (place ? glass.pieces[Number(place)] : glass.scene)?.abbe ?? 1,
  );
  return { index, abbe };
}

/** A material by name, or a glass by its six digits: both numbers at once, as one step. */
function Material({ path }: { path: string }) {
  const { index, abbe } = usePiece(path);
  const set = (nd: number, vd: number): void => {
    const { look, setLook } = useShot.getState();
    setLook(setSetting(setSetting(look, `${path}.index`, nd), `${path}.abbe`, vd));
  };
  const known = MATERIALS.find(({ nd, vd }) => nd === index && vd === abbe);
  const name = path === 'glass.scene' ? 'Glass in the scene' : `Glass ${Number(/\d+/.exec(path)![0]) + 2}`;
  const code = `${String(Math.round((index - 1) * 1000)).padStart(3, '0')}${String(Math.round(abbe * 10)).padStart(3, '0')}`;
  return (
    <Box sx={ROW_COLUMNS}>
      <Box component="span">Material</Box>
      <Box sx={{ gridColumn: '2 / 4', display: 'flex', gap: 0.5, minWidth: 0 }}>
        <Select
          value={known?.id ?? ''}
          displayEmpty
          onChange={({ target }) => {
            const material = MATERIALS.find(({ id }) => id === target.value);
            if (material) set(material.nd, material.vd);
          }}
          variant="outlined"
          inputProps={{ 'aria-label': `${name} material` }}
          sx={{ ...SELECT_SX, flex: 1, minWidth: 0 }}
        >
          {!known && (
            <MenuItem value="" dense>
              own
            </MenuItem>
          )}
          {MATERIALS.map(({ id, label, nd, vd, source }) => (
            <MenuItem key={id} value={id} dense title={source}>
              {label} {nd} / {vd}
            </MenuItem>
          ))}
        </Select>
        <Box sx={{ width: 64, flex: 'none' }}>
          <TextField
            label={`${name} six-digit code`}
            value={code}
            problem={(text) => (parseGlassCode(text) ? undefined : 'six digits, as 517642')}
            onTake={(text) => {
              const glass = parseGlassCode(text);
              if (glass) set(Math.min(2.7, glass.nd), Math.min(100, glass.vd));
            }}
          />
        </Box>
      </Box>
    </Box>
  );
}
