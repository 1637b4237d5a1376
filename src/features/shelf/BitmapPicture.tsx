'use client';
import { useEffect, useRef } from 'react';

/** An image bitmap as an element of the page. */
export function BitmapPicture({ bitmap, label }: { bitmap: ImageBitmap; label: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    context.canvas.width = bitmap.width;
    context.canvas.height = bitmap.height;
    context.drawImage(bitmap, 0, 0);
  }, [bitmap]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={label}
      style={{ display: 'block', width: '100%', maxHeight: 110, objectFit: 'contain' }}
    />
  );
}
