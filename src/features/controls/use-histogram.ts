import { useEffect, useState } from 'react';
import type { Histogram } from '../../core/image/histogram';
import { benchEngine } from '../../engine/browser/client';
import { useDesk } from '../../state/desk-store';

/** The histogram of what is on show, asked for whenever a finished picture arrives. */
export function useHistogram(): Histogram | undefined {
  const arrivals = useDesk((state) => state.arrivals);
  const [histogram, setHistogram] = useState<Histogram>();
  useEffect(() => {
    if (arrivals === 0) return;
    let alive = true;
    void benchEngine()
      .histogram()
      .then((made) => alive && setHistogram(made));
    return () => {
      alive = false;
    };
  }, [arrivals]);
  return histogram;
}
