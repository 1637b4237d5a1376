import { useCallback, useEffect, useRef, useState } from 'react';
import { benchEngine } from '../../engine/browser/client';
import type { PixelReading } from '../../engine/messages';
import type { Layout } from '../common';

export interface PlacedReading extends PixelReading {
  x: number;
  y: number;
}

/**
 * Reads the values under the pointer from the engine, never more than one question at a time; anew when there is a new
 * picture (`shown` counts them) under a pointer that rests.
 */
export function usePixelReading(
  layout: Layout | null,
  picture: { width: number; height: number } | undefined,
  shown: number,
) {
  const [reading, setReading] = useState<PlacedReading | null>(null);
  const asked = useRef<{ x: number; y: number } | null>(null);
  const busy = useRef(false);
  const pointer = useRef<{ left: number; top: number } | null>(null);

  const readAt = useCallback(
    (left: number, top: number): void => {
      pointer.current = { left, top };
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
        try {
          while (asked.current) {
            const place: { x: number; y: number } = asked.current;
            const values = await benchEngine().readPixel(place.x, place.y);
            if (asked.current === null) break;
            setReading(values ? { ...values, ...place } : null);
            if (asked.current.x === place.x && asked.current.y === place.y) asked.current = null;
          }
        } catch {
          // A look that cannot be read as it stands is reported where it is computed; the next picture is read again.
          asked.current = null;
          setReading(null);
        } finally {
          busy.current = false;
        }
      })();
    },
    [layout, picture],
  );

  useEffect(() => {
    if (pointer.current) readAt(pointer.current.left, pointer.current.top);
  }, [shown, readAt]);

  const leave = useCallback(() => {
    pointer.current = null;
    asked.current = null;
    setReading(null);
  }, []);

  return { reading, readAt, leave };
}
