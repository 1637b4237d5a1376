import { passesOf } from './passes';
import { readPassName } from './pass-words';
import { addChannel, emptyPicture, type Picture } from './picture';
import type { Role } from './roles';

/**
 * Spellings of passes as artists and renderers write them (common practice, no source): spelled out, short, run together, in
 * any case, with numbers, with the shot's name.
 */
const SPELLINGS: Record<Role | 'none', string> = {
  beauty: 'beauty Beauty BTY rgba RGB main_pass master combined shot010_beauty FinalImage',
  diffuse: `diffuse Diffuse DIFFUSE diff Dif diffuseLighting DiffuseLighting diffuse_lighting difflighting diffuse2 diffuse_02
    quay_diffuse lambert diffuse.direct diffuse_direct DirectDiffuse directdiffuse totalDiffuse`,
  specular: `specular Spec spec_01 specularLighting reflection Reflections refl REFL reflect glossy GlossyDirect glossy_indirect
    coat clearcoat coat_direct sheen specular_indirect SpecularReflection quayReflection_3`,
  transmission:
    'transmission transmission_left Refraction refr REFRACT refractions transmissive TransmissionIndirect',
  emission: `emission Emission2 emissive selfIllumination self_illumination selfillum SelfIllum emit incandescence
    quay_emission emission_final EMISSION.left`,
  indirect: `GI gi indirect Indirect indirectLighting globalIllumination global_illumination GlobalIllum globalillumination
    diffuseIndirect indirect_diffuse IndirectDiffuse diffuse_gi GIDiffuse bounced bounced_light giLighting`,
  sss: 'sss SSS subsurface SubSurface sub_surface subsurfaceScattering SubSurfaceScatter translucency sss_direct sssIndirect',
  volume: 'volume Volumetric volumetrics volumeDirect atmosphere vol_light volume_indirect',
  depth: 'depth Depth Z z zdepth ZDepth z_depth zBuffer depthZ camera_depth quay_depth',
  normal: 'N normal Normals nrm worldNormal normals_camera Ng norm',
  matte: `matte mattes mask masks_01 objectID object_id ObjectId MaterialID crypto_object CryptoMaterial cryptomatte00
    id emission_mask quay_matte`,
  other: `AO ao ambientOcclusion ambient_occlusion AmbientOcclusion occlusion albedo diffuse_albedo diffuseColor
    diffuse_filter specular_albedo rawDiffuse diffuse_raw baseColor shadow shadows unshadowed_diffuse position P motionVectors
    motion_vector velocity UV uv facingRatio reflectionFilter illumination Illumination lightGroup_key lightSelect2 variance`,
  none: 'extra indirectly puddle take foo misc street heroine speckled boat n_over_z_street',
};

describe('the name of a pass', () => {
  const pairs = Object.entries(SPELLINGS).flatMap(([role, names]) =>
    names.split(/\s+/).map((name): [string, string] => [name, role]),
  );

  it('is known in a hundred spellings', () => {
    expect(pairs.length).toBeGreaterThan(140);
  });

  it.each(pairs)('%s is %s', (name, role) => {
    expect(readPassName(name).role ?? 'none').toBe(role);
  });

  it('never takes bounced light for emission, whatever stands beside it', () => {
    for (const name of ['globalIllumination', 'GI', 'global illumination', 'bounced illumination'])
      for (const spelled of [name, name.toUpperCase(), `quay_${name}`, `${name}_2`])
        expect(readPassName(spelled).role).toBe('indirect');
  });

  it('says when it is in doubt', () => {
    expect(readPassName('illumination').doubt).toMatch(/direct, bounced or emitted/);
    expect(readPassName('lightGroup_key').doubt).toMatch(/by its lamps/);
    expect(readPassName('emission').doubt).toBeUndefined();
  });
});

describe('passes of one role', () => {
  const picture = (...layers: string[]): Picture => {
    const made = emptyPicture(2, 1);
    for (const layer of ['', ...layers.map((name) => `${name}.`)])
      for (const channel of ['R', 'G', 'B'])
        addChannel(made, layer + channel, 'float', new Float32Array(2).fill(1));
    return made;
  };
  const rolesOf = (made: Picture, roles: Record<string, Role> = {}): Record<string, string> =>
    Object.fromEntries(
      passesOf(made, roles).map(({ name, role, doubt }) => [name, doubt ? `${role}: ${doubt}` : role]),
    );

  it('are kept apart; parts of one that is there as a whole are left out, and it is said', () => {
    expect(
      rolesOf(picture('emission1', 'emission2', 'diffuse', 'diffuse_direct', 'diffuse_indirect')),
    ).toEqual({
      beauty: 'beauty',
      emission1: 'emission',
      emission2: 'emission',
      diffuse: 'diffuse',
      diffuse_direct: 'other: it is a part of diffuse',
      diffuse_indirect: 'other: it is a part of diffuse',
    });
  });

  it('in parts alone add up, and what a person says goes', () => {
    expect(rolesOf(picture('diffuse_direct', 'diffuse_indirect'))).toMatchObject({
      diffuse_direct: 'diffuse',
      diffuse_indirect: 'indirect',
    });
    expect(rolesOf(picture('diffuse', 'diffuse_direct'), { diffuse_direct: 'diffuse' })).toMatchObject({
      diffuse_direct: 'diffuse',
    });
  });
});
