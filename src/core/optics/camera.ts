/** A camera as the stations share it. Lengths in millimetres, distances in metres. */
export interface Camera {
  focalLength: number;
  sensorWidth: number;
  sensorHeight: number;
  fStop: number;
  /** From the front principal plane, along the axis. */
  focusDistance: number;
}

const MM = 1000;

/** A disc of this diameter still counts as a point: the sensor's diagonal over 1442, 0.030 mm at 36 x 24 (common practice). */
export function acceptableBlur({ sensorWidth, sensorHeight }: Camera): number {
  return Math.hypot(sensorWidth, sensorHeight) / 1442;
}

/** Diameter of the entrance pupil, mm. */
export function pupilDiameter({ focalLength, fStop }: Camera): number {
  return focalLength / fStop;
}

/** Focused here, everything from half this distance to infinity is sharp: `f^2 / (N c) + f`, in metres (Ray 1988). */
export function hyperfocal(camera: Camera, blur = acceptableBlur(camera)): number {
  const { focalLength, fStop } = camera;
  return (focalLength ** 2 / (fStop * blur) + focalLength) / MM;
}

/** Whether a lens can be focused where it is: within its focal length no real image comes to be. */
export function canFocus({ focusDistance, focalLength }: Camera): boolean {
  return focusDistance * MM > focalLength;
}

/** Nearest and farthest distance that counts as sharp, in metres; the far one may be infinite (Ray 1988). */
export function sharpLimits(camera: Camera, blur = acceptableBlur(camera)): { near: number; far: number } {
  const { focusDistance: s, focalLength } = camera;
  const h = hyperfocal(camera, blur);
  const f = focalLength / MM;
  // Within the focal length nothing is sharp on the sensor, whatever its distance.
  if (!canFocus(camera)) return { near: s, far: s };
  const near = (s * (h - f)) / (h + s - 2 * f);
  return { near, far: s >= h ? Infinity : (s * (h - f)) / (h - s) };
}

/** The f-number at which a distance is just the near or far limit of what counts as sharp; undefined if there is none. */
export function fStopForLimit(
  camera: Camera,
  limit: number,
  blur = acceptableBlur(camera),
): number | undefined {
  const { focusDistance: s, focalLength } = camera;
  const f = focalLength / MM;
  // The handbook's limits, solved for the hyperfocal distance.
  const h = limit < s ? (s * f + limit * (s - 2 * f)) / (s - limit) : (s * (limit - f)) / (limit - s);
  const fStop = focalLength ** 2 / ((h - f) * MM * blur);
  return limit !== s && h > f && Number.isFinite(fStop) && fStop > 0 ? fStop : undefined;
}

/** The part of the sensor that a picture of an aspect (width over height) uses, mm: its whole width. */
export function sensorPart({ sensorWidth }: Camera, aspect: number): { width: number; height: number } {
  return { width: sensorWidth, height: sensorWidth / aspect };
}

/** Angles of view in degrees, of a lens focused at infinity, on the whole sensor or a part of it. */
export function fieldOfView(
  { focalLength, sensorWidth, sensorHeight }: Camera,
  { width, height } = { width: sensorWidth, height: sensorHeight },
): {
  horizontal: number;
  vertical: number;
  diagonal: number;
} {
  const angle = (side: number): number => (2 * Math.atan(side / (2 * focalLength)) * 180) / Math.PI;
  return {
    horizontal: angle(width),
    vertical: angle(height),
    diagonal: angle(Math.hypot(width, height)),
  };
}

/** The focal length that sees an angle, degrees, over so many millimetres of the sensor. */
export const focalLengthFor = (angle: number, side: number): number =>
  side / 2 / Math.tan((angle * Math.PI) / 360);

/**
 * Diameter of the blur disc on the sensor in mm, negative in front of the focus (Potmesil & Chakravarty 1981):
 * `(f/N) |z - s|/z * f/s` for a picture rendered with a fixed field of view, or with `f/(s - f)` for a lens that breathes.
 * Infinite distances are allowed.
 */
export function blurDiameter(camera: Camera, distance: number, breathing: boolean): number {
  const { focalLength: f, focusDistance } = camera;
  const s = focusDistance * MM;
  const away = distance === Infinity ? 1 : (distance - focusDistance) / distance;
  return pupilDiameter(camera) * away * (f / (breathing ? Math.max(1e-6, s - f) : s));
}

/**
 * The f-stop at which a point at a distance is blurred to a disc of so many millimetres on the sensor; undefined for one that lies in the
 * focus, which no f-stop blurs.
 */
export function fStopForBlur(
  camera: Camera,
  distance: number,
  breathing: boolean,
  millimetres: number,
): number | undefined {
  // Discs are as large as the pupil, which is the focal length over the f-stop.
  const wide = Math.abs(blurDiameter({ ...camera, fStop: 1 }, distance, breathing));
  return wide > 0 ? wide / millimetres : undefined;
}

/** Radius of the first dark ring that diffraction gives, `1.22 lambda N`, in micrometres (Airy 1835). */
export function airyRadius({ fStop }: Camera, wavelength = 0.55): number {
  return 1.21967 * wavelength * fStop;
}

/** A distance in metres as the focus may have it, to four digits. */
export const asFocusDistance = (distance: number): number =>
  Number(Math.min(100_000, Math.max(0.01, distance)).toPrecision(4));
