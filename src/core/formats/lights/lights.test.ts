import { Object3D, PerspectiveCamera, PointLight, Scene, SpotLight, DirectionalLight } from 'three';
import { GLTFExporter } from 'three/examples/jsm/exporters/GLTFExporter.js';
import { defaultLook } from '../../look/look';
import { placeSpaceLights } from '../../look/space-lights';
import { readLights } from './read';
import { lightsAtFrame } from './space-light';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);

/** A scene as a general-purpose library writes it (three.js, GLTFExporter). */
async function writeScene(build: (scene: Scene) => void): Promise<Uint8Array> {
  const scene = new Scene();
  build(scene);
  scene.updateMatrixWorld(true);
  return bytes(JSON.stringify(await new GLTFExporter().parseAsync(scene)));
}

describe('lights of a scene in glTF', () => {
  it('stand where the camera sees them, with brightness, colour and cone', async () => {
    const file = await writeScene((scene) => {
      const camera = new PerspectiveCamera(40, 16 / 9, 0.1, 100);
      camera.position.set(3, 2, 5);
      // Looks along +x.
      camera.rotation.y = -Math.PI / 2;
      const lamp = new PointLight('#ff8000', 250);
      lamp.name = 'Lamp';
      const group = new Object3D();
      group.position.set(13, 0, 0);
      lamp.position.set(0, 3, 6);
      group.add(lamp);
      const beacon = new SpotLight('#ffffff', 900, 0, Math.PI / 6);
      beacon.name = 'Beacon';
      beacon.position.set(13, 2, 5);
      // Shines back at the camera: lights shine along -z of their node.
      beacon.rotation.y = Math.PI / 2;
      beacon.target.position.set(0, 0, -1);
      beacon.add(beacon.target);
      const sun = new DirectionalLight('#ffffff', 3);
      sun.name = 'Sun';
      sun.position.set(40, 2, 5);
      sun.rotation.y = Math.PI / 2;
      sun.target.position.set(0, 0, -1);
      sun.add(sun.target);
      scene.add(camera, group, beacon, sun);
    });
    const { lights, warnings } = await readLights(file, 'scene.gltf');
    expect(warnings).toEqual([]);
    const named = (name: string) => lights.find((light) => light.name === name)!;
    // From (3, 2, 5) along +x: 10 m ahead, 1 m up, and z = 6 lies 1 m to the right.
    expect(named('Lamp').px).toBeCloseTo(1, 5);
    expect(named('Lamp').py).toBeCloseTo(1, 5);
    expect(named('Lamp').pz).toBeCloseTo(-10, 5);
    expect(named('Lamp').gain).toBe(250);
    expect(named('Lamp').tint).toBe('#ff8000');
    expect(named('Beacon').pz).toBeCloseTo(-10, 5);
    expect(named('Beacon').cone).toBeCloseTo(60, 3);
    expect(named('Beacon').turn).toBeCloseTo(0, 3);
    expect(named('Beacon').tilt).toBeCloseTo(0, 3);
    expect(named('Sun').px / named('Sun').pz).toBeCloseTo(0, 6);
    expect(named('Sun').pz).toBeLessThan(-1e4);
  });

  it('of a scene without a camera are taken from its origin, and one without lights is refused', async () => {
    const lit = await writeScene((scene) => {
      const lamp = new PointLight('#ffffff', 1);
      lamp.position.set(0, 1, -4);
      scene.add(lamp);
    });
    const { lights, warnings } = await readLights(lit, 'a.gltf');
    expect(lights[0]!.pz).toBeCloseTo(-4, 6);
    expect(warnings[0]).toMatch(/no camera/);
    const dark = await writeScene((scene) => scene.add(new Object3D()));
    await expect(readLights(dark, 'b.gltf')).rejects.toThrow(/no lights/);
    await expect(readLights(bytes('{"asset":'), 'c.gltf')).rejects.toThrow(/cannot be read/);
    await expect(readLights(bytes('glTF????????'), 'd.glb')).rejects.toThrow(/cannot be read/);
  });
});

describe('places of lights by frame', () => {
  const table = 'frame,name,x,y,z,gain\n1,Sun,-10,5,-20,100\n11,Sun,10,5,-20,300\n1,Lamp,1,1,-4,\n';

  it('come from a table, mixed between the frames it has', async () => {
    const read = await readLights(bytes(table), 'places.csv');
    const at = (frame: number) => lightsAtFrame(read, frame);
    expect(at(1).map(({ name, px }) => [name, px])).toEqual([
      ['Sun', -10],
      ['Lamp', 1],
    ]);
    expect(at(6)[0]).toMatchObject({ px: 0, py: 5, pz: -20, gain: 200 });
    expect(at(-5)[0]!.px).toBe(-10);
    expect(at(99)[0]!.px).toBe(10);
    expect(at(99)[1]).toMatchObject({ name: 'Lamp', px: 1 });
  });

  it('come from JSON, and what does not fit is named by its row', async () => {
    const read = await readLights(
      bytes('{"lights":[{"name":"A","x":1,"y":2,"z":-3,"tint":"#ff0000"}]}'),
      'a.json',
    );
    expect(read.lights).toMatchObject([{ name: 'A', px: 1, py: 2, pz: -3, tint: '#ff0000' }]);
    await expect(readLights(bytes('name,x,y\nA,1,2\n'), 'b.csv')).rejects.toThrow(/no column z/);
    await expect(readLights(bytes('x,y,z\n1,2,far\n'), 'c.csv')).rejects.toThrow(/row 2, z/);
    await expect(readLights(bytes('[]'), 'd.json')).rejects.toThrow(/no lights/);
    await expect(readLights(bytes('7'), 'e.json')).rejects.toThrow(/no list/);
  });

  it('become lights of the look; those of a name that is there move and keep their settings', async () => {
    const read = await readLights(bytes(table), 'places.csv');
    const first = placeSpaceLights(defaultLook(), lightsAtFrame(read, 1));
    expect(first.ghosts.lights.map(({ name, space, gain }) => [name, space, gain])).toEqual([
      ['Sun', true, 100],
      ['Lamp', true, 1000],
    ]);
    const tuned = {
      ...first,
      ghosts: { ...first.ghosts, lights: first.ghosts.lights.map((light) => ({ ...light, gain: 7 })) },
    };
    const moved = placeSpaceLights(tuned, lightsAtFrame(read, 11));
    expect(moved.ghosts.lights.map(({ px, gain }) => [px, gain])).toEqual([
      [10, 7],
      [1, 7],
    ]);
    const many = Array.from({ length: 80 }, (_, k) => ({ name: `L${k}`, px: 0, py: 0, pz: -1 }));
    expect(() => placeSpaceLights(defaultLook(), many)).toThrow(/80 lights/);
  });
});
