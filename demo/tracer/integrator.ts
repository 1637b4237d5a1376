import { buildGeometry, intersect, newHit, type Geometry, type Hit } from './geometry';
import { Sampler } from './sampler';
import type { Material, Portal, Scene, Vec3 } from './scene';
import { applyTexture, type Detail } from './surface';

/** Where a sample's light came from, by the first thing the camera sees. Their sum is the beauty. */
export const LIGHT_PASSES = ['diffuse', 'specular', 'transmission', 'emission', 'indirect'] as const;
const DIFFUSE = 0;
const SPECULAR = 3;
const TRANSMISSION = 6;
const EMISSION = 9;
const INDIRECT = 12;
/** Numbers a sample adds to: five passes of RGB, then the first normal, then one coverage a group. */
export const NORMAL_AT = 15;
export const MATTE_AT = 18;

/** What one sample brings by way of a rough bounce is held under this, so that rare paths leave no specks. */
const BOUNCE_LIMIT = 0.9;
const MAX_BOUNCES = 4;

/** Without chance: what one lamp brings at most by way of a surface or glass, and from where on its shadow is looked for. */
const PLAIN_LAMP = 3;
const PLAIN_SHADOWED = 0.03;
/** What every surface is rougher by, so that no glints are left to chance. */
const PLAIN_SOFTENING = 0.15;
/** Lamps of less strength over the square of their distance are left out. */
const PLAIN_LEAST = 0.0005;

interface Light {
  centre: Vec3;
  radius: number;
  radiance: Vec3;
  /** Largest channel times radius squared: what its strength goes by. */
  strength: number;
}

type Shading = Exclude<Material, { kind: 'emitter' } | { kind: 'glass' }>;

interface Vertex {
  px: number;
  py: number;
  pz: number;
  /** Shading normal, facing the viewer, and the direction to the viewer. */
  nx: number;
  ny: number;
  nz: number;
  vx: number;
  vy: number;
  vz: number;
  alpha: number;
  /** Reflectance at normal incidence and diffuse albedo, by channel. */
  f0: [number, number, number];
  albedo: [number, number, number];
  metal: boolean;
}

const newVertex = (): Vertex => ({
  px: 0,
  py: 0,
  pz: 0,
  nx: 0,
  ny: 0,
  nz: 0,
  vx: 0,
  vy: 0,
  vz: 0,
  alpha: 0,
  f0: [0, 0, 0],
  albedo: [0, 0, 0],
  metal: false,
});

/** A real aperture: a disc in the lens's plane, from every point of which the focus plane is seen sharp. Metres. */
export interface Aperture {
  /** 0 is a pinhole. */
  radius: number;
  focusDistance: number;
}

export interface TracerOptions {
  aperture?: Aperture;
  /** Tells independent renderings of the same picture apart. */
  run?: number;
  /** Leaves out the lamps that the camera sees itself: {@link Tracer.lampSample} brings them. */
  lampsApart?: boolean;
  /** Shades every surface by a formula and without chance, see {@link Tracer.plainLight}. */
  plain?: boolean;
  /** Groups that the camera sees itself, or all and the sky: the others are there for light and shadow alone. */
  visible?: readonly string[];
}

/** Stands for the sky among the groups that are seen. */
export const SKY = 'sky';

/** One lamp's light through one point of the lens. */
export interface LampSample {
  /** Place in the picture, in pixels. */
  x: number;
  y: number;
  /** Light per channel: its sum over all samples and pixels, divided by the number of samples, is the lamp's. */
  light: [number, number, number];
  /** Whether the middle of the lens does not see this point of the lamp. */
  hidden: boolean;
}

/** The groups of a scene that are seen, their items numbered as in the whole. */
function partOf(scene: Scene, groups: readonly string[]): Geometry {
  const numbers = scene.items.flatMap(({ group }, index) => (groups.includes(group) ? [index] : []));
  const part = buildGeometry({ ...scene, items: numbers.map((index) => scene.items[index]!) });
  return { ...part, item: part.item.map((index) => numbers[index]!) };
}

/** Traces one scene. One instance serves one thread; it keeps its scratch. */
export class Tracer {
  private readonly geometry: Geometry;
  /** What the camera sees itself. */
  private readonly seen: Geometry;
  private readonly seesSky: boolean;
  private readonly materials: Material[];
  private readonly groupOf: Uint8Array;
  private readonly lights: Light[] = [];
  private readonly lightOf: Int16Array;
  private readonly weights: Float64Array;
  /** Five numbers a light: centre, radius, strength. */
  private readonly lightData: Float64Array;
  private readonly sampler = new Sampler();
  private readonly detail: Detail = { shade: 1, roughness: 0, nx: 0, ny: 0, nz: 0 };
  private readonly eye: { origin: Vec3; right: Vec3; up: Vec3; forward: Vec3; scale: number };
  private readonly aperture: Aperture;
  private readonly run: number;
  private readonly lampsApart: boolean;
  private readonly plain: boolean;
  /** Where on the lens the last sample passed, on the unit disc: to the right and up. */
  readonly lensPoint = { x: 0, y: 0 };
  /** Where in the picture the last sample lies, in pixels. */
  readonly imagePoint = { x: 0, y: 0 };
  /** Start of the last camera ray. */
  private readonly start = { x: 0, y: 0, z: 0 };
  private readonly firstHit = newHit();
  /** Its direction. */
  private readonly ray = { x: 0, y: 0, z: 1 };

  constructor(
    readonly scene: Scene,
    readonly width: number,
    readonly height: number,
    {
      aperture = { radius: 0, focusDistance: 1 },
      run = 0,
      lampsApart = false,
      plain = false,
      visible,
    }: TracerOptions = {},
  ) {
    this.aperture = aperture;
    this.run = run;
    this.lampsApart = lampsApart;
    this.plain = plain;
    this.geometry = buildGeometry(scene);
    this.seen = visible ? partOf(scene, visible) : this.geometry;
    this.seesSky = !visible || visible.includes(SKY);
    this.materials = scene.items.map((item) => scene.materials[item.material]!);
    this.groupOf = Uint8Array.from(scene.items, (item) => scene.groups.indexOf(item.group));
    this.lightOf = new Int16Array(scene.items.length).fill(-1);
    scene.items.forEach((item, index) => {
      const material = this.materials[index]!;
      if (material.kind !== 'emitter' || item.shape.kind !== 'sphere') return;
      const { centre, radius } = item.shape;
      this.lightOf[index] = this.lights.length;
      this.lights.push({
        centre,
        radius,
        radiance: material.radiance,
        strength: Math.max(...material.radiance) * radius * radius,
      });
    });
    this.weights = new Float64Array(this.lights.length);
    this.lightData = Float64Array.from(
      this.lights.flatMap(({ centre, radius, strength }) => [...centre, radius, strength]),
    );
    this.eye = eyeOf(scene, width);
  }

  /** Planar depth in metres along the optical axis, through the middle of a pixel. */
  depth(x: number, y: number): number {
    this.aim(x + 0.5, y + 0.5);
    const { x: dx, y: dy, z: dz } = this.ray;
    const hit = newHit();
    const { origin, forward } = this.eye;
    const found = intersect(this.seen, origin[0], origin[1], origin[2], dx, dy, dz, hit);
    if (!found) return this.seesSky ? this.scene.sky.distance : 0;
    return hit.distance * (dx * forward[0] + dy * forward[1] + dz * forward[2]);
  }

  /** Whether the last sample saw anything. */
  lastIsSeen(): boolean {
    return this.seesSky || this.firstHit.item >= 0;
  }

  /** Adds sample number `index` of pixel (x, y) to `sums`. */
  sample(x: number, y: number, index: number, sums: Float64Array): void {
    const sampler = this.sampler;
    sampler.begin(y * this.width + x, index, this.run);
    sampler.draw();
    this.imagePoint.x = x + 0.5 + tent(sampler.u);
    this.imagePoint.y = y + 0.5 + tent(sampler.v);
    this.trace(sums);
  }

  /** Adds sample number `index` of the square of pixel (x, y), evenly drawn, to `sums`: {@link imagePoint} tells its place. */
  evenSample(x: number, y: number, index: number, sums: Float64Array): void {
    const sampler = this.sampler;
    sampler.begin(y * this.width + x, index, this.run);
    sampler.draw();
    this.imagePoint.x = x + sampler.u;
    this.imagePoint.y = y + sampler.v;
    this.trace(sums);
  }

  /**
   * Pixels by which a ray through the lens's edge lies elsewhere in the picture that is focused at another distance: to
   * the side where it passes the lens.
   */
  shiftAt(focusDistance: number): number {
    const { radius } = this.aperture;
    return (radius * (1 / focusDistance - 1 / this.aperture.focusDistance)) / this.eye.scale;
  }

  private trace(sums: Float64Array): void {
    this.aim(this.imagePoint.x, this.imagePoint.y);
    if (this.aperture.radius > 0) this.throughLens();
    else this.startAt(0, 0);
    const { x: ox, y: oy, z: oz } = this.start;
    const { x: dx, y: dy, z: dz } = this.ray;
    const hit = this.firstHit;
    if (!intersect(this.seen, ox, oy, oz, dx, dy, dz, hit)) {
      if (this.seesSky) this.addSky(dx, dy, dz, 1, sums, EMISSION);
      return;
    }
    sums[MATTE_AT + this.groupOf[hit.item]!]! += 1;
    const material = this.materials[hit.item]!;
    if (material.kind === 'emitter') {
      const apart = this.lampsApart && this.lightOf[hit.item]! >= 0;
      for (let c = 0; c < 3 && !apart; c++) sums[EMISSION + c]! += material.radiance[c]!;
      this.addNormal(hit, sums);
      return;
    }
    if (this.plain) {
      this.plainLight(ox, oy, oz, dx, dy, dz, hit, true, sums, DIFFUSE);
      return;
    }
    if (material.kind === 'glass') {
      this.addNormal(hit, sums);
      this.shadeGlass(material, ox, oy, oz, dx, dy, dz, hit, sums);
      return;
    }
    const vertex = newVertex();
    this.prepare(vertex, material, ox, oy, oz, dx, dy, dz, hit);
    sums[NORMAL_AT]! += vertex.nx;
    sums[NORMAL_AT + 1]! += vertex.ny;
    sums[NORMAL_AT + 2]! += vertex.nz;
    this.shadeSurface(vertex, sums);
  }

  /** Turns the camera ray into one through another point of the lens that meets it in the focus plane. */
  private throughLens(): void {
    const { origin, forward } = this.eye;
    const { x: dx, y: dy, z: dz } = this.ray;
    const { radius, focusDistance } = this.aperture;
    this.drawLensPoint();
    this.startAt(radius * this.lensPoint.x, radius * this.lensPoint.y);
    const t = focusDistance / (dx * forward[0] + dy * forward[1] + dz * forward[2]);
    const x = origin[0] + t * dx - this.start.x;
    const y = origin[1] + t * dy - this.start.y;
    const z = origin[2] + t * dz - this.start.z;
    const length = Math.sqrt(x * x + y * y + z * z);
    this.ray.x = x / length;
    this.ray.y = y / length;
    this.ray.z = z / length;
  }

  private drawLensPoint(): void {
    const { sampler, lensPoint } = this;
    sampler.draw();
    const r = Math.sqrt(sampler.u);
    const angle = 2 * Math.PI * sampler.v;
    lensPoint.x = r * Math.cos(angle);
    lensPoint.y = r * Math.sin(angle);
  }

  private startAt(a: number, b: number): void {
    const { origin, right, up } = this.eye;
    this.start.x = origin[0] + a * right[0] + b * up[0];
    this.start.y = origin[1] + a * right[1] + b * up[1];
    this.start.z = origin[2] + a * right[2] + b * up[2];
  }

  /** Whether what the last sample saw first is not in the pinhole's picture: hidden there, or outside the frame. */
  lastIsHidden(): boolean {
    const { origin } = this.eye;
    const hit = this.firstHit;
    let { x, y, z } = this.ray;
    let reach = Infinity;
    if (hit.item >= 0) {
      x = this.start.x + hit.distance * x - origin[0];
      y = this.start.y + hit.distance * y - origin[1];
      z = this.start.z + hit.distance * z - origin[2];
      reach = Math.sqrt(x * x + y * y + z * z);
      [x, y, z] = [x / reach, y / reach, z / reach];
    }
    const [px, py] = this.pixelOf(x, y, z);
    if (px < 0 || py < 0 || px > this.width || py > this.height) return true;
    return intersect(this.seen, origin[0], origin[1], origin[2], x, y, z, shadowHit, reach * 0.999 - 1e-3);
  }

  /** Where a direction from the middle of the lens meets the picture. */
  private pixelOf(x: number, y: number, z: number): [number, number] {
    const { right, up, forward, scale } = this.eye;
    const along = x * forward[0] + y * forward[1] + z * forward[2];
    const a = (x * right[0] + y * right[1] + z * right[2]) / along;
    const b = (x * up[0] + y * up[1] + z * up[2]) / along;
    return [this.width / 2 + a / scale, this.height / 2 - b / scale];
  }

  get lampCount(): number {
    return this.lights.length;
  }

  /** Pixels that a lamp's image about covers when another distance is in focus. */
  lampFootprint(lamp: number, focusDistance = this.aperture.focusDistance): number {
    const { centre, radius } = this.lights[lamp]!;
    const { origin, forward, scale } = this.eye;
    const z =
      (centre[0] - origin[0]) * forward[0] +
      (centre[1] - origin[1]) * forward[1] +
      (centre[2] - origin[2]) * forward[2];
    if (z <= 0) return 0;
    const blur = (this.aperture.radius * Math.abs(1 / focusDistance - 1 / z)) / scale;
    return Math.PI * (blur + radius / z / scale + 1) ** 2;
  }

  /**
   * Sends sample number `index` of a lamp that the camera may see through a point of the lens. Rare bright lamps make
   * smooth discs in this way, for which rays from the pixels would hit them too seldom. False if nothing arrives.
   */
  lampSample(lamp: number, index: number, out: LampSample): boolean {
    const light = this.lights[lamp]!;
    const { sampler, eye } = this;
    sampler.begin(lamp + 0x40000000, index, this.run);
    this.drawLensPoint();
    const { radius, focusDistance } = this.aperture;
    const [a, b] = [radius * this.lensPoint.x, radius * this.lensPoint.y];
    this.startAt(a, b);
    const { x: px, y: py, z: pz } = this.start;
    const cone = coneTo({ px, py, pz }, light);
    sampler.draw();
    if (!coneDirection(cone, sampler.u, sampler.v)) return false;
    const { x, y, z } = toLight;
    const { right, up, forward, scale } = eye;
    const along = x * forward[0] + y * forward[1] + z * forward[2];
    if (along <= 0) return false;
    out.x =
      this.width / 2 + ((x * right[0] + y * right[1] + z * right[2]) / along + a / focusDistance) / scale;
    out.y = this.height / 2 - ((x * up[0] + y * up[1] + z * up[2]) / along + b / focusDistance) / scale;
    if (!intersect(this.seen, px, py, pz, x, y, z, shadowHit)) return false;
    if (this.lightOf[shadowHit.item] !== lamp) return false;
    // From solid angle to area in the picture.
    const weight = cone.solidAngle / (along ** 3 * scale * scale);
    for (let c = 0; c < 3; c++) out.light[c as 0 | 1 | 2] = weight * light.radiance[c as 0 | 1 | 2];
    this.firstHit.item = shadowHit.item;
    this.firstHit.distance = shadowHit.distance;
    this.ray.x = x;
    this.ray.y = y;
    this.ray.z = z;
    out.hidden = radius > 0 && this.lastIsHidden();
    return true;
  }

  /** Turns the camera ray, through the middle of the lens, to a place in the picture. */
  private aim(px: number, py: number): void {
    const { right, up, forward, scale } = this.eye;
    const a = (px - this.width / 2) * scale;
    const b = (this.height / 2 - py) * scale;
    const x = forward[0] + a * right[0] + b * up[0];
    const y = forward[1] + a * right[1] + b * up[1];
    const z = forward[2] + a * right[2] + b * up[2];
    const length = Math.sqrt(x * x + y * y + z * z);
    this.ray.x = x / length;
    this.ray.y = y / length;
    this.ray.z = z / length;
  }

  /**
   * Light of a hit without any chance in it: every lamp counts as a point, the strongest cast hard shadows, the sky
   * lights and is mirrored, glass is looked through once. What is left to sampling is the aperture alone.
   */
  private plainLight(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    hit: Hit,
    throughGlass: boolean,
    out: Float64Array,
    at: number,
  ): void {
    const material = this.materials[hit.item]!;
    if (material.kind === 'emitter') {
      for (let c = 0; c < 3; c++) out[at + c]! += Math.min(PLAIN_LAMP, material.radiance[c]!);
    } else if (material.kind === 'glass') {
      if (throughGlass) this.plainGlass(material, ox, oy, oz, dx, dy, dz, hit, out, at);
    } else {
      this.prepare(plainVertex, material, ox, oy, oz, dx, dy, dz, hit);
      this.plainSurface(plainVertex, out, at);
    }
  }

  private plainSurface(vertex: Vertex, out: Float64Array, at: number): void {
    const { px, py, pz, nx, ny, nz, vx, vy, vz, alpha } = vertex;
    const facing = nx * vx + ny * vy + nz * vz;
    const mirrored = schlick(vertex.f0[0], facing) * (1 - alpha);
    const sky = scratch3.fill(0);
    this.addSky(nx, ny, nz, 1, sky, 0);
    for (let c = 0; c < 3; c++) out[at + c]! += vertex.albedo[c]! * sky[c]!;
    sky.fill(0);
    this.addSky(2 * facing * nx - vx, 2 * facing * ny - vy, 2 * facing * nz - vz, 1, sky, 0);
    for (let c = 0; c < 3; c++) out[at + c]! += (vertex.metal ? vertex.f0[c]! : mirrored) * sky[c]!;
    const { lights, lightData } = this;
    for (let index = 0, l = 0; index < lights.length; index++, l += 5) {
      const x = lightData[l]! - px;
      const y = lightData[l + 1]! - py;
      const z = lightData[l + 2]! - pz;
      const square = x * x + y * y + z * z;
      const towards = x * nx + y * ny + z * nz;
      if (towards <= 0 || lightData[l + 4]! < PLAIN_LEAST * square) continue;
      const inverse = 1 / Math.sqrt(square);
      const cosine = towards * inverse;
      const { radius, radiance } = lights[index]!;
      const solid = (Math.PI * radius * radius) / square;
      // A lamp's size widens its reflection.
      vertex.alpha = Math.min(1, alpha + 0.5 * radius * inverse + PLAIN_SOFTENING);
      evaluateSpecular(vertex, x * inverse, y * inverse, z * inverse, response);
      let most = 0;
      for (let c = 0; c < 3; c++) {
        const value = radiance[c]! * solid * ((vertex.albedo[c]! * cosine) / Math.PI + response[c]!);
        lampLight[c] = value;
        most = Math.max(most, value);
      }
      if (most < PLAIN_SHADOWED) visibility.fill(1);
      else if (!this.visible(px, py, pz, x * inverse, y * inverse, z * inverse, index, visibility)) continue;
      for (let c = 0; c < 3; c++) out[at + c]! += visibility[c]! * Math.min(PLAIN_LAMP, lampLight[c]!);
    }
    vertex.alpha = alpha;
  }

  private plainGlass(
    material: Extract<Material, { kind: 'glass' }>,
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    hit: Hit,
    out: Float64Array,
    at: number,
  ): void {
    const { place, mirrored, bent, reflectance: f } = meetGlass(material.index, ox, oy, oz, dx, dy, dz, hit);
    const [px, py, pz] = place;
    const [tx, ty, tz] = bent;
    const seen = new Float64Array(3);
    this.plainRay(...place, ...mirrored, seen);
    for (let c = 0; c < 3; c++) out[at + c]! += f * seen[c]!;
    const inside = newHit();
    if (!intersect(this.geometry, px, py, pz, tx, ty, tz, inside)) return;
    const leaving = tx * inside.nx + ty * inside.ny + tz * inside.nz;
    const under = 1 - material.index ** 2 * (1 - leaving * leaving);
    if (under <= 0) return;
    const m = Math.sqrt(under) - material.index * leaving;
    const length = inside.distance;
    this.plainRay(
      px + length * tx,
      py + length * ty,
      pz + length * tz,
      material.index * tx + m * inside.nx,
      material.index * ty + m * inside.ny,
      material.index * tz + m * inside.nz,
      seen.fill(0),
    );
    for (let c = 0; c < 3; c++) out[at + c]! += (1 - f) * (1 - f) * material.tint[c]! ** length * seen[c]!;
  }

  private plainRay(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    out: Float64Array,
  ): void {
    const hit = newHit();
    if (intersect(this.geometry, ox, oy, oz, dx, dy, dz, hit))
      this.plainLight(ox, oy, oz, dx, dy, dz, hit, false, out, 0);
    else this.addSky(dx, dy, dz, 1, out, 0);
  }

  private addNormal(hit: Hit, sums: Float64Array): void {
    sums[NORMAL_AT]! += hit.nx;
    sums[NORMAL_AT + 1]! += hit.ny;
    sums[NORMAL_AT + 2]! += hit.nz;
  }

  private addSky(dx: number, dy: number, dz: number, weight: number, out: Float64Array, at: number): void {
    const { zenith, horizon, glow, glowHeading, glowWidth } = this.scene.sky;
    const t = Math.exp(-5 * Math.max(0, dy));
    const heading = ((Math.atan2(dx, dz) * 180) / Math.PI - glowHeading) / glowWidth;
    const g = Math.exp(-heading * heading - 14 * Math.max(0, dy));
    for (let c = 0; c < 3; c++)
      out[at + c]! += weight * (zenith[c]! + (horizon[c]! - zenith[c]!) * t + glow[c]! * g);
  }

  /** Makes the vertex of a hit: position, bent normal, roughness, colours. */
  private prepare(
    vertex: Vertex,
    material: Shading,
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    hit: Hit,
  ): void {
    const t = hit.distance;
    vertex.px = ox + t * dx;
    vertex.py = oy + t * dy;
    vertex.pz = oz + t * dz;
    vertex.vx = -dx;
    vertex.vy = -dy;
    vertex.vz = -dz;
    vertex.nx = hit.nx;
    vertex.ny = hit.ny;
    vertex.nz = hit.nz;
    vertex.alpha = material.roughness;
    vertex.metal = material.kind === 'metal';
    let shade = 1;
    if (material.kind === 'coated') {
      if (material.texture) {
        const d = this.detail;
        applyTexture(
          material.texture,
          vertex.px,
          vertex.py,
          vertex.pz,
          hit.nx,
          hit.ny,
          hit.nz,
          t,
          material.roughness,
          d,
        );
        shade = d.shade;
        vertex.alpha = d.roughness;
        // A bent normal that turns away from the viewer is laid back, or grazing views go black.
        const facing = -(d.nx * dx + d.ny * dy + d.nz * dz);
        const lift = facing < 0.02 ? 0.02 - facing : 0;
        const [nx, ny, nz] = [d.nx - lift * dx, d.ny - lift * dy, d.nz - lift * dz];
        const length = Math.sqrt(nx * nx + ny * ny + nz * nz);
        vertex.nx = nx / length;
        vertex.ny = ny / length;
        vertex.nz = nz / length;
      }
      const index = material.index ?? 1.5;
      const f = ((index - 1) / (index + 1)) ** 2;
      for (let c = 0; c < 3; c++) {
        vertex.f0[c] = f;
        vertex.albedo[c] = material.albedo[c]! * shade;
      }
    } else {
      for (let c = 0; c < 3; c++) {
        vertex.f0[c] = material.reflectance[c]!;
        vertex.albedo[c] = 0;
      }
    }
  }

  private shadeSurface(vertex: Vertex, sums: Float64Array): void {
    const sampler = this.sampler;
    const facing = vertex.nx * vertex.vx + vertex.ny * vertex.vy + vertex.nz * vertex.vz;
    if (!vertex.metal) {
      this.addDirect(vertex, 'diffuse', sums, DIFFUSE, 1, 1, 1, Infinity);
      // One cosine-weighted bounce: the sky's light is direct, everything else indirect.
      sampler.draw();
      const [bx, by, bz, share] = this.diffuseDirection(vertex, sampler.u, sampler.v);
      const through = share * (1 - schlick(vertex.f0[0], facing));
      const tint = vertex.albedo.map((a) => a * through) as [number, number, number];
      if (intersect(this.geometry, vertex.px, vertex.py, vertex.pz, bx, by, bz, bounceHit)) {
        this.path(vertex.px, vertex.py, vertex.pz, bx, by, bz, 'none', 0, vertex, ...tint, sums, INDIRECT);
      } else {
        const sky = scratch3.fill(0);
        this.addSky(bx, by, bz, 1, sky, 0);
        for (let c = 0; c < 3; c++) sums[DIFFUSE + c]! += tint[c]! * sky[c]!;
      }
    }
    this.addDirect(vertex, 'specular', sums, SPECULAR, 1, 1, 1, Infinity);
    sampler.draw();
    if (!reflect(vertex, sampler.u, sampler.v, mirror)) return;
    const w = mirror.weight;
    this.path(
      vertex.px,
      vertex.py,
      vertex.pz,
      mirror.x,
      mirror.y,
      mirror.z,
      'shared',
      mirror.pdf,
      vertex,
      w[0],
      w[1],
      w[2],
      sums,
      SPECULAR,
    );
  }

  private shadeGlass(
    material: Extract<Material, { kind: 'glass' }>,
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    hit: Hit,
    sums: Float64Array,
  ): void {
    const { place, mirrored, bent, reflectance: f } = meetGlass(material.index, ox, oy, oz, dx, dy, dz, hit);
    this.path(...place, ...mirrored, 'all', 0, undefined, f, f, f, sums, SPECULAR);
    const t = 1 - f;
    this.path(...place, ...bent, 'all', 0, undefined, t, t, t, sums, TRANSMISSION);
  }

  /**
   * A way on from a diffuse surface, and the cosine over pi by the chance it had: half of them are aimed at the windows before
   * it, if there are any, by the balance heuristic for one sample (Veach 1997).
   */
  private diffuseDirection(vertex: Vertex, u: number, v: number): [number, number, number, number] {
    const portals = this.scene.portals?.filter((portal) => inFrontOf(portal, vertex) > 0) ?? [];
    if (portals.length === 0) return [...cosineDirection(vertex, u, v), 1];
    const pick = 2 * u * portals.length;
    const aimed = portals[Math.floor(pick)];
    const [x, y, z] = aimed ? directionTo(aimed, vertex, pick % 1, v) : cosineDirection(vertex, 2 * u - 1, v);
    const cosine = Math.max(0, x * vertex.nx + y * vertex.ny + z * vertex.nz) / Math.PI;
    let chance = 0;
    for (const portal of portals) chance += portalChance(portal, vertex, x, y, z) / portals.length;
    return [x, y, z, cosine / (0.5 * cosine + 0.5 * chance)];
  }

  /** Chooses a light by its strength over the square of its distance, for a lobe; returns the chance it had, or 0. */
  private chooseLight(vertex: Vertex, lobe: 'diffuse' | 'specular', u: number): number {
    const { weights } = this;
    const total = this.weighLights(vertex, lobe === 'specular');
    if (!(total > 0)) return 0;
    let rest = u * total;
    for (let i = 0; i < weights.length; i++) {
      rest -= weights[i]!;
      if (rest < 0 && weights[i]! > 0) {
        chosen.light = i;
        chosen.v = (rest + weights[i]!) / weights[i]!;
        return weights[i]! / total;
      }
    }
    return 0;
  }

  private lightChance(vertex: Vertex, index: number): number {
    const total = this.weighLights(vertex, true);
    return total > 0 ? this.weights[index]! / total : 0;
  }

  /** Fills `weights` with what each light would about bring to a lobe; returns their sum. */
  private weighLights(vertex: Vertex, specular: boolean): number {
    const { weights, lightData } = this;
    const { px, py, pz, nx, ny, nz, vx, vy, vz, alpha } = vertex;
    let total = 0;
    for (let i = 0, at = 0; i < weights.length; i++, at += 5) {
      const x = lightData[at]! - px;
      const y = lightData[at + 1]! - py;
      const z = lightData[at + 2]! - pz;
      const square = x * x + y * y + z * z;
      const inverse = 1 / Math.sqrt(square);
      const sine = Math.min(1, lightData[at + 3]! * inverse);
      const cosine = (x * nx + y * ny + z * nz) * inverse + sine;
      let weight = cosine > 0 ? (lightData[at + 4]! * cosine) / square : 0;
      if (specular && weight > 0) {
        // The lobe's height for the light's centre, widened by the light's own size.
        const hx = x * inverse + vx;
        const hy = y * inverse + vy;
        const hz = z * inverse + vz;
        const ch = (hx * nx + hy * ny + hz * nz) / Math.sqrt(hx * hx + hy * hy + hz * hz);
        weight *= distribution(ch, Math.min(1, alpha + 0.5 * sine + 0.01)) + 0.02;
      }
      weights[i] = weight;
      total += weight;
    }
    return total;
  }

  /** Adds light that comes straight from one sampled lamp through one lobe. */
  private addDirect(
    vertex: Vertex,
    lobe: 'diffuse' | 'specular',
    out: Float64Array,
    at: number,
    tr: number,
    tg: number,
    tb: number,
    limit: number,
  ): void {
    const sampler = this.sampler;
    sampler.draw();
    const chance = this.chooseLight(vertex, lobe, sampler.u);
    const { v: angle } = sampler;
    if (chance === 0) return;
    const light = this.lights[chosen.light]!;
    const cone = coneTo(vertex, light);
    if (!coneDirection(cone, chosen.v, angle)) return;
    const { x, y, z } = toLight;
    const cl = x * vertex.nx + y * vertex.ny + z * vertex.nz;
    if (cl <= 0) return;
    const pdf = chance / cone.solidAngle;
    if (lobe === 'diffuse') {
      const cv = vertex.nx * vertex.vx + vertex.ny * vertex.vy + vertex.nz * vertex.vz;
      const scale =
        ((1 - schlick(vertex.f0[0], cl)) * (1 - schlick(vertex.f0[0], cv)) * cl) / (Math.PI * pdf);
      for (let c = 0; c < 3; c++) response[c] = vertex.albedo[c]! * scale;
    } else {
      const lobePdf = evaluateSpecular(vertex, x, y, z, response);
      const share = powerShare(pdf, lobePdf);
      for (let c = 0; c < 3; c++) response[c] = (response[c]! * share) / pdf;
    }
    if (response[0]! + response[1]! + response[2]! <= 0) return;
    const [r0, r1, r2] = [response[0]!, response[1]!, response[2]!];
    if (!this.visible(vertex.px, vertex.py, vertex.pz, x, y, z, chosen.light, visibility)) return;
    const L = light.radiance;
    out[at]! += Math.min(limit, tr * r0 * L[0] * visibility[0]!);
    out[at + 1]! += Math.min(limit, tg * r1 * L[1] * visibility[1]!);
    out[at + 2]! += Math.min(limit, tb * r2 * L[2] * visibility[2]!);
  }

  /** Whether a lamp is seen along a ray; glass lets its tint through (the bundling of light by it is left out). */
  private visible(
    px: number,
    py: number,
    pz: number,
    dx: number,
    dy: number,
    dz: number,
    light: number,
    tint: Float64Array,
  ): boolean {
    tint.fill(1);
    let [ox, oy, oz] = [px, py, pz];
    for (let crossing = 0; crossing < 8; crossing++) {
      if (!intersect(this.geometry, ox, oy, oz, dx, dy, dz, shadowHit)) return false;
      if (this.lightOf[shadowHit.item] === light) return true;
      const material = this.materials[shadowHit.item]!;
      if (material.kind !== 'glass') return false;
      const inside = dx * shadowHit.nx + dy * shadowHit.ny + dz * shadowHit.nz > 0;
      for (let c = 0; c < 3; c++) tint[c]! *= inside ? material.tint[c]! ** shadowHit.distance : 0.92;
      ox += dx * shadowHit.distance;
      oy += dy * shadowHit.distance;
      oz += dz * shadowHit.distance;
    }
    return false;
  }

  /**
   * Follows one path and adds what it brings, times a throughput. `lamps` says how a lamp that it runs into counts:
   * 'all' of it, 'shared' with the direct sampling at `from` (whose lobe had density `pdf`), or 'none' (sampled elsewhere).
   */
  private path(
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    lamps: 'all' | 'shared' | 'none',
    pdf: number,
    from: Vertex | undefined,
    tr: number,
    tg: number,
    tb: number,
    out: Float64Array,
    at: number,
  ): void {
    const hit = newHit();
    let inside = false;
    let origin = from;
    // Nothing but clear glass lies between the eye and this vertex.
    let clear = from === undefined;
    const vertex = newVertex();
    for (let bounce = 1; bounce <= MAX_BOUNCES + (inside ? 4 : 0); bounce++) {
      if (!intersect(this.geometry, ox, oy, oz, dx, dy, dz, hit)) {
        const sky = scratch3.fill(0);
        this.addSky(dx, dy, dz, 1, sky, 0);
        out[at]! += tr * sky[0]!;
        out[at + 1]! += tg * sky[1]!;
        out[at + 2]! += tb * sky[2]!;
        return;
      }
      const material = this.materials[hit.item]!;
      if (material.kind === 'emitter') {
        const light = this.lightOf[hit.item]!;
        let share = lamps === 'none' ? 0 : 1;
        if (lamps === 'shared' && light >= 0 && origin) {
          const cone = coneTo(origin, this.lights[light]!);
          share = powerShare(pdf, this.lightChance(origin, light) / cone.solidAngle);
        }
        const L = material.radiance;
        const limit = clear || (bounce === 1 && light >= 0) ? Infinity : BOUNCE_LIMIT;
        out[at]! += Math.min(limit, tr * share * L[0]);
        out[at + 1]! += Math.min(limit, tg * share * L[1]);
        out[at + 2]! += Math.min(limit, tb * share * L[2]);
        return;
      }
      const [hx, hy, hz] = [ox + hit.distance * dx, oy + hit.distance * dy, oz + hit.distance * dz];
      if (material.kind === 'glass') {
        const cosine = dx * hit.nx + dy * hit.ny + dz * hit.nz;
        inside = cosine > 0;
        if (inside) {
          tr *= material.tint[0] ** hit.distance;
          tg *= material.tint[1] ** hit.distance;
          tb *= material.tint[2] ** hit.distance;
        }
        const [nx, ny, nz] = inside ? [-hit.nx, -hit.ny, -hit.nz] : [hit.nx, hit.ny, hit.nz];
        const c = Math.abs(cosine);
        const eta = inside ? material.index : 1 / material.index;
        const under = 1 - eta * eta * (1 - c * c);
        const f = under <= 0 ? 1 : fresnel(inside ? Math.sqrt(under) : c, material.index);
        this.sampler.draw();
        if (this.sampler.u < f) {
          dx += 2 * c * nx;
          dy += 2 * c * ny;
          dz += 2 * c * nz;
        } else {
          const k = eta * c - Math.sqrt(under);
          dx = eta * dx + k * nx;
          dy = eta * dy + k * ny;
          dz = eta * dz + k * nz;
          inside = !inside;
        }
        [ox, oy, oz] = [hx, hy, hz];
        lamps = 'all';
        continue;
      }
      this.prepare(vertex, material, ox, oy, oz, dx, dy, dz, hit);
      // After the first vertex every surface is a little rougher: sharp reflections of reflections are rare and noisy.
      vertex.alpha = Math.max(vertex.alpha, 0.15);
      const limit = clear ? 6 * BOUNCE_LIMIT : BOUNCE_LIMIT;
      if (!vertex.metal) this.addDirect(vertex, 'diffuse', out, at, tr, tg, tb, limit);
      this.addDirect(vertex, 'specular', out, at, tr, tg, tb, limit);
      clear = false;
      if (bounce === MAX_BOUNCES) return;
      const facing = vertex.nx * vertex.vx + vertex.ny * vertex.vy + vertex.nz * vertex.vz;
      const mirrorChance = vertex.metal ? 1 : 0.25 + 0.6 * schlick(vertex.f0[0], facing);
      this.sampler.draw();
      const pick = this.sampler.u;
      this.sampler.draw();
      if (pick < mirrorChance) {
        if (!reflect(vertex, this.sampler.u, this.sampler.v, mirror)) return;
        tr *= mirror.weight[0] / mirrorChance;
        tg *= mirror.weight[1] / mirrorChance;
        tb *= mirror.weight[2] / mirrorChance;
        [dx, dy, dz] = [mirror.x, mirror.y, mirror.z];
        pdf = mirror.pdf;
        lamps = 'shared';
        origin = { ...vertex };
      } else {
        let share: number;
        [dx, dy, dz, share] = this.diffuseDirection(vertex, this.sampler.u, this.sampler.v);
        const through = (share * (1 - schlick(vertex.f0[0], facing))) / (1 - mirrorChance);
        tr *= vertex.albedo[0] * through;
        tg *= vertex.albedo[1] * through;
        tb *= vertex.albedo[2] * through;
        lamps = 'none';
      }
      [ox, oy, oz] = [vertex.px, vertex.py, vertex.pz];
      // Paths that bring little end by chance (Russian roulette).
      const survive = Math.min(1, Math.max(tr, tg, tb) * 4);
      this.sampler.draw();
      if (this.sampler.u >= survive) return;
      tr /= survive;
      tg /= survive;
      tb /= survive;
    }
  }
}

const bounceHit = newHit();
const shadowHit = newHit();
const chosen = { light: 0, v: 0 };
const toLight = { x: 0, y: 0, z: 0 };
const response = new Float64Array(3);
const visibility = new Float64Array(3);
const scratch3 = new Float64Array(3);
const plainVertex = newVertex();
const lampLight = new Float64Array(3);
const mirror = { x: 0, y: 0, z: 0, pdf: 0, weight: [0, 0, 0] as [number, number, number] };

function eyeOf(
  scene: Scene,
  width: number,
): { origin: Vec3; right: Vec3; up: Vec3; forward: Vec3; scale: number } {
  const { position, target, focalLength, sensorWidth } = scene.camera;
  const f = [target[0] - position[0], target[1] - position[1], target[2] - position[2]];
  const length = Math.hypot(...f);
  const forward: Vec3 = [f[0]! / length, f[1]! / length, f[2]! / length];
  const level = Math.hypot(forward[0], forward[2]);
  const right: Vec3 = [forward[2] / level, 0, -forward[0] / level];
  const up: Vec3 = [
    forward[1] * right[2],
    forward[2] * right[0] - forward[0] * right[2],
    -forward[1] * right[0],
  ];
  return {
    origin: position,
    right,
    up,
    forward,
    scale: sensorWidth / focalLength / width,
  };
}

/** Maps a uniform number to a tent of one pixel's radius around 0. */
function tent(u: number): number {
  return u < 0.5 ? Math.sqrt(2 * u) - 1 : 1 - Math.sqrt(2 - 2 * u);
}

/** Where a ray meets clear glass from outside, and the two ways on from there. */
function meetGlass(
  index: number,
  ox: number,
  oy: number,
  oz: number,
  dx: number,
  dy: number,
  dz: number,
  { distance, nx, ny, nz }: Hit,
): { place: Vec3; mirrored: Vec3; bent: Vec3; reflectance: number } {
  const cosine = -(dx * nx + dy * ny + dz * nz);
  const eta = 1 / index;
  const k = eta * cosine - Math.sqrt(Math.max(0, 1 - eta * eta * (1 - cosine * cosine)));
  return {
    place: [ox + distance * dx, oy + distance * dy, oz + distance * dz],
    mirrored: [dx + 2 * cosine * nx, dy + 2 * cosine * ny, dz + 2 * cosine * nz],
    bent: [eta * dx + k * nx, eta * dy + k * ny, eta * dz + k * nz],
    reflectance: fresnel(cosine, index),
  };
}

/** Fresnel reflectance of a clear surface seen from its thin side, unpolarised. */
function fresnel(cosine: number, index: number): number {
  const c = Math.min(1, Math.max(0, cosine));
  const t = Math.sqrt(1 - (1 - c * c) / (index * index));
  const s = (c - index * t) / (c + index * t);
  const p = (index * c - t) / (index * c + t);
  return (s * s + p * p) / 2;
}

/** Schlick's approximation of the Fresnel reflectance (Schlick 1994). */
function schlick(f0: number, cosine: number): number {
  const m = Math.min(1, Math.max(0, 1 - cosine));
  return f0 + (1 - f0) * m * m * m * m * m;
}

/** GGX distribution of facet normals (Walter et al. 2007). */
function distribution(cosine: number, alpha: number): number {
  if (cosine <= 0) return 0;
  const a = alpha * alpha;
  const d = cosine * cosine * (a - 1) + 1;
  return a / (Math.PI * d * d);
}

/** Smith's masking term Lambda for GGX. */
function masking(cosine: number, alpha: number): number {
  const c = Math.max(1e-4, cosine);
  return (Math.sqrt(1 + (alpha * alpha * (1 - c * c)) / (c * c)) - 1) / 2;
}

function evaluateSpecular(v: Vertex, lx: number, ly: number, lz: number, out: Float64Array): number {
  const cl = lx * v.nx + ly * v.ny + lz * v.nz;
  const cv = v.vx * v.nx + v.vy * v.ny + v.vz * v.nz;
  if (cl <= 0 || cv <= 0) {
    out.fill(0);
    return 0;
  }
  const [hx, hy, hz] = [lx + v.vx, ly + v.vy, lz + v.vz];
  const length = Math.sqrt(hx * hx + hy * hy + hz * hz);
  const ch = (hx * v.nx + hy * v.ny + hz * v.nz) / length;
  const lh = (hx * lx + hy * ly + hz * lz) / length;
  const d = distribution(ch, v.alpha);
  const [mv, ml] = [masking(cv, v.alpha), masking(cl, v.alpha)];
  const scale = d / (4 * cv * (1 + mv + ml));
  for (let c = 0; c < 3; c++) out[c] = schlick(v.f0[c]!, lh) * scale;
  return d / (4 * cv * (1 + mv));
}

/** Samples the visible facets of GGX (Heitz 2018, JCGT 7(4)) and gives the mirrored direction with its weight. */
function reflect(v: Vertex, u1: number, u2: number, out: typeof mirror): boolean {
  const sign = v.nz >= 0 ? 1 : -1;
  const a = -1 / (sign + v.nz);
  const b = v.nx * v.ny * a;
  const t: Vec3 = [1 + sign * v.nx * v.nx * a, sign * b, -sign * v.nx];
  const s: Vec3 = [b, sign + v.ny * v.ny * a, -v.ny];
  const x = v.vx * t[0] + v.vy * t[1] + v.vz * t[2];
  const y = v.vx * s[0] + v.vy * s[1] + v.vz * s[2];
  const z = Math.max(1e-3, v.vx * v.nx + v.vy * v.ny + v.vz * v.nz);
  const stretch = Math.sqrt(v.alpha * v.alpha * (x * x + y * y) + z * z);
  const [wx, wy, wz] = [(v.alpha * x) / stretch, (v.alpha * y) / stretch, z / stretch];
  const flat = wx * wx + wy * wy;
  const [t1x, t1y] = flat > 0 ? [-wy / Math.sqrt(flat), wx / Math.sqrt(flat)] : [1, 0];
  const [t2x, t2y, t2z] = [-wz * t1y, wz * t1x, wx * t1y - wy * t1x];
  const r = Math.sqrt(u1);
  const phi = 2 * Math.PI * u2;
  const p1 = r * Math.cos(phi);
  const half = (1 + wz) / 2;
  const p2 = (1 - half) * Math.sqrt(1 - p1 * p1) + half * r * Math.sin(phi);
  const p3 = Math.sqrt(Math.max(0, 1 - p1 * p1 - p2 * p2));
  const nx = v.alpha * (p1 * t1x + p2 * t2x + p3 * wx);
  const ny = v.alpha * (p1 * t1y + p2 * t2y + p3 * wy);
  const nz = Math.max(1e-6, p2 * t2z + p3 * wz);
  const n = Math.sqrt(nx * nx + ny * ny + nz * nz);
  const [hx, hy, hz] = [nx / n, ny / n, nz / n];
  const vh = x * hx + y * hy + z * hz;
  const [mx, my, mz] = [2 * vh * hx - x, 2 * vh * hy - y, 2 * vh * hz - z];
  if (mz <= 0 || vh <= 0) return false;
  out.x = mx * t[0] + my * s[0] + mz * v.nx;
  out.y = mx * t[1] + my * s[1] + mz * v.ny;
  out.z = mx * t[2] + my * s[2] + mz * v.nz;
  const [mv, ml] = [masking(z, v.alpha), masking(mz, v.alpha)];
  for (let c = 0; c < 3; c++) out.weight[c] = (schlick(v.f0[c]!, vh) * (1 + mv)) / (1 + mv + ml);
  out.pdf = distribution(hz, v.alpha) / (4 * z * (1 + mv));
  return true;
}

function cosineDirection(v: Vertex, u1: number, u2: number): [number, number, number] {
  const phi = 2 * Math.PI * u1;
  const z = 1 - 2 * u2;
  const r = Math.sqrt(Math.max(0, 1 - z * z));
  const x = v.nx + r * Math.cos(phi);
  const y = v.ny + r * Math.sin(phi);
  const w = v.nz + z * 0.9999;
  const length = Math.sqrt(x * x + y * y + w * w);
  return [x / length, y / length, w / length];
}

const dot = (a: Vec3, x: number, y: number, z: number): number => a[0] * x + a[1] * y + a[2] * z;

/** The portal's normal, as long as its area is large. */
function normalOf({ u, v }: Portal): Vec3 {
  return [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
}

/** How far a vertex lies before a portal, on the side of its normal, times the portal's area. */
function inFrontOf(portal: Portal, { px, py, pz }: Vertex): number {
  const [cx, cy, cz] = portal.corner;
  return dot(normalOf(portal), px - cx, py - cy, pz - cz);
}

function directionTo(portal: Portal, { px, py, pz }: Vertex, a: number, b: number): [number, number, number] {
  const { corner, u, v } = portal;
  const x = corner[0] + a * u[0] + b * v[0] - px;
  const y = corner[1] + a * u[1] + b * v[1] - py;
  const z = corner[2] + a * u[2] + b * v[2] - pz;
  const length = Math.sqrt(x * x + y * y + z * z);
  return [x / length, y / length, z / length];
}

/** Density over solid angle of directions to evenly drawn points of a portal; 0 beside it. */
function portalChance(portal: Portal, vertex: Vertex, x: number, y: number, z: number): number {
  const towards = -dot(normalOf(portal), x, y, z);
  if (towards <= 0) return 0;
  const { px, py, pz } = vertex;
  const distance = inFrontOf(portal, vertex) / towards;
  const { corner, u, v } = portal;
  const [qx, qy, qz] = [
    px + distance * x - corner[0],
    py + distance * y - corner[1],
    pz + distance * z - corner[2],
  ];
  const [a, b] = [dot(u, qx, qy, qz) / dot(u, ...u), dot(v, qx, qy, qz) / dot(v, ...v)];
  return a < 0 || a > 1 || b < 0 || b > 1 ? 0 : (distance * distance) / towards;
}

interface Cone {
  x: number;
  y: number;
  z: number;
  solidAngle: number;
  /** 1 minus the cosine of its half angle. */
  height: number;
}

/** The cone under which a lamp is seen. */
function coneTo(v: Pick<Vertex, 'px' | 'py' | 'pz'>, light: Light): Cone {
  const [x, y, z] = [light.centre[0] - v.px, light.centre[1] - v.py, light.centre[2] - v.pz];
  const distance = Math.sqrt(x * x + y * y + z * z);
  const sine2 = Math.min(0.9999, (light.radius / distance) ** 2);
  // 1 - cos as sin^2 / (1 + cos), which keeps its digits for far lamps.
  const height = sine2 / (1 + Math.sqrt(1 - sine2));
  return { x: x / distance, y: y / distance, z: z / distance, solidAngle: 2 * Math.PI * height, height };
}

function coneDirection(cone: Cone, u1: number, u2: number): boolean {
  const drop = u1 * cone.height * 0.999;
  const sine = Math.sqrt(drop * (2 - drop));
  const phi = 2 * Math.PI * u2;
  const sign = cone.z >= 0 ? 1 : -1;
  const a = -1 / (sign + cone.z);
  const b = cone.x * cone.y * a;
  const [c, s] = [sine * Math.cos(phi), sine * Math.sin(phi)];
  toLight.x = c * (1 + sign * cone.x * cone.x * a) + s * b + (1 - drop) * cone.x;
  toLight.y = c * sign * b + s * (sign + cone.y * cone.y * a) + (1 - drop) * cone.y;
  toLight.z = -c * sign * cone.x - s * cone.y + (1 - drop) * cone.z;
  return Number.isFinite(toLight.x);
}

/** Power heuristic of two sampling strategies (Veach 1997). */
function powerShare(own: number, other: number): number {
  return (own * own) / (own * own + other * other);
}
