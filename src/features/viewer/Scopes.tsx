'use client';
import Box from '@mui/material/Box';
import { useEffect, useState } from 'react';
import type { Scopes as Measured } from '../../core/image/scopes';
import { benchEngine, unwrap } from '../../engine/browser/client';
import { useDesk } from '../../state/desk-store';
import { BitmapPicture } from '../common';

/** The scopes as the page has them: pictures as bitmaps. */
type Scopes = {
  [Name in keyof Measured]: Measured[Name] extends { pixels: unknown } ? ImageBitmap : Measured[Name];
};

const HEIGHT = 116;

/** Of which of the two the scopes are: of what the picture is held against only while it is. */
function useScopedSide(): 'shown' | 'compared' {
  return useDesk(({ compare, scopesOf }) =>
    compare === null || compare === 'difference' ? 'shown' : scopesOf,
  );
}

/** What the picture is made of as it is shown, asked for whenever a finished one arrives. */
function useScopes(wanted: boolean): Scopes | undefined {
  const side = useScopedSide();
  const arrivals = useDesk((state) => (side === 'shown' ? state.arrivals : state.comparedArrivals));
  const [scopes, setScopes] = useState<Scopes>();
  useEffect(() => {
    if (!wanted || arrivals === 0) return;
    let alive = true;
    void benchEngine()
      .scopes(side)
      .then((outcome) => alive && setScopes(unwrap(outcome) as Scopes | undefined));
    return () => {
      alive = false;
    };
  }, [wanted, arrivals, side]);
  return wanted ? scopes : undefined;
}

/** Histogram, waveforms and chroma under the picture; folded away unless they are wanted. */
export function Scopes() {
  const wanted = useDesk((state) => state.scopes);
  const scopes = useScopes(wanted);
  if (!wanted) return null;
  return (
    <Box
      component="section"
      aria-label="Scopes"
      sx={{
        flex: 'none',
        height: HEIGHT + 26,
        display: 'flex',
        gap: 1,
        px: 1,
        pt: 0.5,
        borderTop: '1px solid',
        borderColor: 'divider',
        bgcolor: 'background.default',
        fontSize: 11,
        color: 'text.secondary',
      }}
    >
      {scopes ? (
        <>
          <Scope
            name="Histogram"
            says={`${percent(scopes.black)} black, ${percent(scopes.white)} white`}
            grow
          >
            <HistogramLines histogram={scopes.histogram} />
          </Scope>
          <Scope name="Waveform, luma" grow>
            <BitmapPicture bitmap={scopes.luma} label="Waveform of luma" stretch />
          </Scope>
          <Scope name="Waveform, channels" grow>
            <BitmapPicture bitmap={scopes.channels} label="Waveform of red, green and blue" stretch />
          </Scope>
          <Scope name="Chroma">
            <BitmapPicture bitmap={scopes.chroma} label="Chroma: blue to the right, red upwards" fill />
          </Scope>
        </>
      ) : (
        <Box sx={{ p: 1 }}>With a picture, its histogram, waveforms and chroma stand here.</Box>
      )}
    </Box>
  );
}

const percent = (share: number): string => `${(100 * share).toFixed(2)} %`;

interface ScopeProps {
  name: string;
  says?: string;
  grow?: boolean;
  children: React.ReactNode;
}

function Scope({ name, says, grow = false, children }: ScopeProps) {
  return (
    <Box sx={{ flex: grow ? 1 : 'none', width: grow ? undefined : HEIGHT, minWidth: 0 }}>
      <Box sx={{ height: 17, display: 'flex', gap: 1, overflow: 'hidden', whiteSpace: 'nowrap' }}>
        {name}
        {says && (
          <Box component="span" data-testid="scope-ends" sx={{ fontFamily: 'var(--figures)' }}>
            {says}
          </Box>
        )}
      </Box>
      <Box sx={{ height: HEIGHT, bgcolor: 'canvas.main', overflow: 'hidden' }}>{children}</Box>
    </Box>
  );
}

const CHANNELS = [
  ['red', '#d98a7d'],
  ['green', '#8fc2a4'],
  ['blue', '#8fb0d9'],
] as const;

/** The three channels as lines over the display's values, by the root of how many there are. */
function HistogramLines({ histogram }: { histogram: Measured['histogram'] }) {
  const most = Math.max(1, ...CHANNELS.flatMap(([name]) => histogram[name].slice(1, -1)));
  const path = (counts: readonly number[]): string =>
    counts
      .map(
        (count, k) => `${k ? 'L' : 'M'}${k} ${(100 - 100 * Math.min(1, Math.sqrt(count / most))).toFixed(1)}`,
      )
      .join('');
  return (
    <svg
      viewBox="0 0 255 100"
      preserveAspectRatio="none"
      width="100%"
      height="100%"
      role="img"
      aria-label="Histogram of red, green and blue"
    >
      {CHANNELS.map(([name, colour]) => (
        <path
          key={name}
          d={path(histogram[name])}
          fill="none"
          stroke={colour}
          strokeWidth={1}
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </svg>
  );
}
