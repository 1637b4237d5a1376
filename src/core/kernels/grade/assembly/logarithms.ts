/** Logarithms to base 2 and powers of 2 by exponent and polynomial. */

/** Of positive numbers, to within 1e-5. */
export function log2Of4(values: v128): v128 {
  const exponent = f32x4.convert_i32x4_s(i32x4.sub(i32x4.shr_u(values, 23), i32x4.splat(127)));
  const mantissa = v128.or(v128.and(values, i32x4.splat(0x007fffff)), i32x4.splat(0x3f800000));
  // log2(m) = log2 of e times 2 artanh((m - 1) / (m + 1)), with m brought to 0.7 .. 1.4.
  const one = f32x4.splat(1);
  const isHigh = f32x4.gt(mantissa, f32x4.splat(1.4142135));
  const m = v128.bitselect(f32x4.mul(mantissa, f32x4.splat(0.5)), mantissa, isHigh);
  const t = f32x4.div(f32x4.sub(m, one), f32x4.add(m, one));
  const t2 = f32x4.mul(t, t);
  let series = f32x4.add(f32x4.splat(0.4), f32x4.mul(t2, f32x4.splat(0.2857143)));
  series = f32x4.add(f32x4.splat(0.6666667), f32x4.mul(t2, series));
  series = f32x4.mul(t, f32x4.add(f32x4.splat(2), f32x4.mul(t2, series)));
  return f32x4.add(f32x4.add(exponent, v128.and(isHigh, one)), f32x4.mul(series, f32x4.splat(1.442695)));
}

/** Of numbers between -8 and 8, to within 1e-6 (Taylor). */
export function exp2Of4(powers: v128): v128 {
  const whole = f32x4.nearest(powers);
  const x = f32x4.mul(f32x4.sub(powers, whole), f32x4.splat(0.6931472));
  let series = f32x4.add(f32x4.splat(0.041666668), f32x4.mul(x, f32x4.splat(0.008333334)));
  series = f32x4.add(f32x4.splat(0.16666667), f32x4.mul(x, series));
  series = f32x4.add(f32x4.splat(0.5), f32x4.mul(x, series));
  series = f32x4.add(f32x4.splat(1), f32x4.mul(x, series));
  series = f32x4.add(f32x4.splat(1), f32x4.mul(x, series));
  const exponent = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(whole), i32x4.splat(127)), 23);
  return f32x4.mul(series, exponent);
}

/** Of one number between -8 and 8. */
export function exp2Of(power: f32): f32 {
  return f32x4.extract_lane(exp2Of4(f32x4.splat(power)), 0);
}
