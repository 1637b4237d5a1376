'use client';
import { useEffect, useRef } from 'react';

/** An image bitmap as an element of the page. */
export function BitmapPicture({
  bitmap,
  label,
  fill = false,
  stretch = false,
}: {
  bitmap: ImageBitmap;
  label: string;
  /** Takes all the height there is, instead of that of a thumbnail. */
  fill?: boolean;
  /** Takes all the room there is, whatever its shape. */
  stretch?: boolean;
}) {
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
      {...(label ? { role: 'img', 'aria-label': label } : { 'aria-hidden': true })}
      style={
        stretch
          ? { display: 'block', width: '100%', height: '100%', objectFit: 'fill' }
          : { display: 'block', width: '100%', maxHeight: fill ? '100%' : 110, objectFit: 'contain' }
      }
    />
  );
}
