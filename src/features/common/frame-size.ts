import { useEffect, useState, type RefObject } from 'react';

/** The size of an element, as it is laid out. */
export function useFrameSize(frame: RefObject<HTMLElement | null>): { width: number; height: number } {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const element = frame.current!;
    const observer = new ResizeObserver(() =>
      setSize({ width: element.clientWidth, height: element.clientHeight }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, [frame]);
  return size;
}

/** Makes a canvas as large as its frame on this screen, empties it, and gives what it is drawn on in the frame's pixels. */
export function cleanCanvas(
  canvas: HTMLCanvasElement | null,
  size: { width: number; height: number },
  colorSpace: PredefinedColorSpace,
): CanvasRenderingContext2D | null {
  const context = canvas?.getContext('2d', { colorSpace });
  if (!context) return null;
  const ratio = window.devicePixelRatio;
  const { canvas: surface } = context;
  const [width, height] = [Math.round(size.width * ratio), Math.round(size.height * ratio)];
  if (surface.width !== width) surface.width = width;
  if (surface.height !== height) surface.height = height;
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  context.clearRect(0, 0, size.width, size.height);
  return context;
}

/** A rectangle of a shape within another, as large as it can be. */
export function containIn(
  shape: { width: number; height: number },
  box: { x: number; y: number; width: number; height: number },
): { x: number; y: number; width: number; height: number } {
  const zoom = Math.min(box.width / shape.width, box.height / shape.height);
  const [width, height] = [shape.width * zoom, shape.height * zoom];
  return { x: box.x + (box.width - width) / 2, y: box.y + (box.height - height) / 2, width, height };
}
