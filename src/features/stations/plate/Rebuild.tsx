'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { elementPath } from '../../../core/look/look';
import { elementOf } from '../../../core/settings/element';
import { useDesk } from '../../../state/desk-store';
import { useShot } from '../../../state/shot-store';
import { useElement } from './use-element';

const PARTS = [
  { part: 'beauty', label: 'Beauty' },
  { part: 'sum', label: 'Sum' },
  { part: 'difference', label: 'Difference' },
] as const;

/** Whether the passes add up to the beauty: the two, how far they are apart, and which of them goes into the lens. */
export function Rebuild() {
  const { index: element, count, card } = useElement();
  const parts = card?.passes;
  const of = count > 1 ? { element } : {};
  const subject = useDesk((state) => state.subject);
  const difference = useDesk((state) => state.report?.difference);
  const set = useDesk((state) => state.set);
  const source = useShot((state) => elementOf(state.look, element).source);
  const change = useShot((state) => state.change);
  const sums = source === 'sum' || (parts?.some((pass) => pass.component) ?? false);
  const part = subject.kind === 'rebuild' ? subject.part : null;
  if (!sums)
    return (
      <Box sx={{ pt: 1, fontSize: 11, color: 'text.secondary' }}>
        No pass adds up to the beauty. Say above what a pass is, if its name does not tell.
      </Box>
    );
  return (
    <Box sx={{ pt: 1 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
        <Box sx={{ width: 84 }}>Rebuild</Box>
        {PARTS.map((one) => (
          <Button
            key={one.part}
            size="small"
            variant="outlined"
            color={part === one.part ? 'primary' : 'inherit'}
            aria-pressed={part === one.part}
            onClick={() =>
              set({
                subject: part === one.part ? { kind: 'final' } : { kind: 'rebuild', part: one.part, ...of },
              })
            }
            sx={{ flex: 1, minWidth: 0, px: 0.5 }}
          >
            {one.label}
          </Button>
        ))}
      </Box>
      {part && difference && (
        <Box
          data-testid="rebuild-difference"
          sx={{ fontFamily: 'var(--figures)', fontSize: 11, color: 'text.secondary', pt: 0.5 }}
        >
          difference: at most {difference.max.toPrecision(3)}, on the mean {difference.mean.toPrecision(3)}
        </Box>
      )}
      <Button
        size="small"
        variant="outlined"
        color="inherit"
        fullWidth
        sx={{ mt: 0.75 }}
        onClick={() => change(elementPath(element, 'source'), source === 'sum' ? 'beauty' : 'sum')}
      >
        {source === 'sum' ? 'Back to the beauty' : 'Put the sum into the lens'}
      </Button>
    </Box>
  );
}
