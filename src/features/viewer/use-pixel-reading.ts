import { useCallback, useRef, useState } from 'react';
import { benchEngine } from '../../engine/browser/client';
import type { PixelReading } from '../../engine/messages';
import type { Layout } from './placement';

export interface PlacedReading extends PixelReading {
  x: number;
  y: number;
}

/** Reads the values under the pointer from the engine, never more than one question at a time. */
export function usePixelReading(
  layout: Layout | null,
  picture: { width: number; height: number } | undefined,
) {
  const [reading, setReading] = useState<PlacedReading | null>(null);
  const asked = useRef<{ x: number; y: number } | null>(null);
  const busy = useRef(false);

  const readAt = useCallback(
    (left: number, top: number): void => {
      if (!layout || !picture) return;
      const x = Math.floor((left - layout.left) / layout.zoom);
      const y = Math.floor((top - layout.top) / layout.zoom);
      if (x < 0 || y < 0 || x >= picture.width || y >= picture.height) {
        asked.current = null;
        setReading(null);
        return;
      }
      asked.current = { x, y };
      if (busy.current) return;
      busy.current = true;
      void (async () => {
        while (asked.current) {
          const place: { x: number; y: number } = asked.current;
          const values = await benchEngine().readPixel(place.x, place.y);
          if (asked.current === null) break;
          setReading(values ? { ...values, ...place } : null);
          if (asked.current.x === place.x && asked.current.y === place.y) asked.current = null;
        }
        busy.current = false;
      })();
    },
    [layout, picture],
  );

  const leave = useCallback(() => {
    asked.current = null;
    setReading(null);
  }, []);

  return { reading, readAt, leave };
}
