'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Tooltip from '@mui/material/Tooltip';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { NumberField, SELECT_SX, type NumberSetting } from '../../controls';
import { usePlates } from '../../session';

/** Diameters of discs in the form of a setting, so that they are typed as all numbers are. */
const discSetting = (label: string, unit: string, most: number, digits: number): NumberSetting => ({
  kind: 'number',
  path: `disc.${label}`,
  group: 'Wished disc',
  label,
  help: 'Diameter of the disc that what is clicked should blur to',
  unit,
  min: 0.1 ** digits,
  max: most,
  step: 0.1 ** digits,
  default: 24,
  scale: 'linear',
  shown: { factor: 1, unit, digits },
});

/** A disc that is wished for what is clicked next gives the f-stop, or the amount. */
export function WishedDisc() {
  const { pixels, by } = useDesk((state) => state.wishedDisc);
  const picking = useDesk((state) => state.picking);
  const set = useDesk((state) => state.set);
  const activePlate = useShot((state) => state.activePlate);
  const height = usePlates(({ cards }) => (activePlate ? cards[activePlate]?.frame.height : undefined));
  const wish = (next: Partial<{ pixels: number; by: 'fStop' | 'amount' }>): void =>
    set({ wishedDisc: { ...useDesk.getState().wishedDisc, ...next } });
  return (
    <Box sx={{ pt: 0.75 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.75, flexWrap: 'wrap' }}>
        <span>Disc</span>
        <Box sx={{ width: 72 }}>
          <NumberField
            setting={discSetting('Pixels', 'px', 4000, 1)}
            value={pixels}
            onChange={(next) => wish({ pixels: next })}
          />
        </Box>
        {height !== undefined && (
          <Box sx={{ width: 72 }}>
            <NumberField
              setting={discSetting('Share of the height', '% h', 100, 2)}
              value={Number(((100 * pixels) / height).toPrecision(4))}
              onChange={(next) => wish({ pixels: Number(((next * height) / 100).toPrecision(5)) })}
            />
          </Box>
        )}
        <span>by</span>
        <Select
          value={by}
          onChange={(event) => wish({ by: event.target.value })}
          variant="outlined"
          inputProps={{ 'aria-label': 'Wished disc by' }}
          sx={SELECT_SX}
        >
          <MenuItem value="fStop" dense>
            f-stop
          </MenuItem>
          <MenuItem value="amount" dense>
            amount
          </MenuItem>
        </Select>
      </Box>
      <Tooltip describeChild title="The next click on the picture makes what is there blur to this disc">
        <Button
          size="small"
          variant="outlined"
          fullWidth
          sx={{ mt: 0.5 }}
          color={picking === 'disc' ? 'primary' : 'inherit'}
          aria-pressed={picking === 'disc'}
          onClick={() => set({ picking: picking === 'disc' ? null : 'disc' })}
        >
          Click what should blur so
        </Button>
      </Tooltip>
    </Box>
  );
}
