import { createRequire as bundleRequire } from 'node:module'; const require = bundleRequire(import.meta.url);

// demo/render.ts
import { mkdirSync, writeFileSync } from "node:fs";
import { dirname } from "node:path";
import { isMainThread, workerData } from "node:worker_threads";
import { fileURLToPath } from "node:url";

// src/core/errors.ts
var BokeluxError = class extends Error {
  where;
  todo;
  constructor(what, about = {}) {
    super(what);
    this.name = new.target.name;
    this.where = about.where;
    this.todo = about.todo;
  }
  /** One line for a terminal or a message bar: what, where, what to do. */
  get line() {
    const place = this.where ? `${this.where}: ` : "";
    const advice = this.todo ? `. ${this.todo}` : "";
    return `${place}${this.message}${advice}`;
  }
};
var FileError = class extends BokeluxError {
};
var CancelledError = class extends BokeluxError {
  constructor() {
    super("cancelled");
  }
};

// src/core/kernels/runtime/scratch.ts
async function withScratchBuffers(buffers, calls, run2, { signal, progress }) {
  const waiting = [...calls];
  let done = 0;
  await settled(
    buffers.map(async (scratch) => {
      for (let call = waiting.shift(); call; call = waiting.shift()) {
        if (signal?.aborted) throw new CancelledError();
        await run2(call, scratch);
        progress?.(++done / calls.length);
      }
    })
  );
}
async function settled(promises) {
  for (const result of await Promise.allSettled(promises))
    if (result.status === "rejected") throw result.reason;
}

// src/core/kernels/runtime/shared.ts
var canShareMemory = typeof SharedArrayBuffer !== "undefined" && globalThis.crossOriginIsolated !== false;
function allocateShared(bytes) {
  return canShareMemory ? new SharedArrayBuffer(bytes) : new ArrayBuffer(bytes);
}

// src/core/image/half.ts
var table;
function halfToFloatBits() {
  if (table) return table;
  const bits = new Uint32Array(65536);
  const asFloat = new Float32Array(1);
  const asBits = new Uint32Array(asFloat.buffer);
  for (let half2 = 0; half2 < 65536; half2++) {
    const sign = (half2 & 32768) << 16;
    const exponent = half2 >> 10 & 31;
    const mantissa = half2 & 1023;
    if (exponent === 31) bits[half2] = (sign | 2139095040 | mantissa << 13) >>> 0;
    else if (exponent > 0) bits[half2] = (sign | exponent + 112 << 23 | mantissa << 13) >>> 0;
    else {
      asFloat[0] = mantissa * 2 ** -24;
      bits[half2] = (asBits[0] | sign) >>> 0;
    }
  }
  table = bits;
  return bits;
}
function halvesToFloats(halves, out = new Float32Array(halves.length)) {
  const bits = halfToFloatBits();
  const outBits = new Uint32Array(out.buffer, out.byteOffset, out.length);
  for (let i = 0; i < halves.length; i++) outBits[i] = bits[halves[i]];
  return out;
}
var one = new Float32Array(1);
var oneBits = new Uint32Array(one.buffer);
function floatToHalf(value) {
  one[0] = value;
  return floatBitsToHalf(oneBits[0]);
}
function floatBitsToHalf(bits) {
  const sign = bits >>> 16 & 32768;
  const exponent = bits >>> 23 & 255;
  const mantissa = bits & 8388607;
  if (exponent === 255) {
    return mantissa === 0 ? sign | 31744 : sign | 31744 | (mantissa >>> 13 || 1);
  }
  if (exponent >= 143) return sign | 31744;
  if (exponent >= 113) {
    const rounded = (bits & 2147483647) - (112 << 23) + 4095 + (bits >>> 13 & 1);
    return sign | rounded >>> 13;
  }
  if (exponent < 102) return sign;
  const full = mantissa | 8388608;
  const shift = 126 - exponent;
  return sign | full + (1 << shift - 1) - 1 + (full >>> shift & 1) >>> shift;
}
function floatsToHalves(floats2, out = new Uint16Array(floats2.length)) {
  const bits = new Uint32Array(floats2.buffer, floats2.byteOffset, floats2.length);
  for (let i = 0; i < floats2.length; i++) out[i] = floatBitsToHalf(bits[i]);
  return out;
}

// src/core/kernels/generated/codecs.ts
var WASM = "AGFzbQEAAAABTQtgBH9/f38Bf2ADf39/AGAFf39/f38Bf2AGf39/f39/AX9gBH9/f38AYAZ/f39/f38AYAF/AX9gAX8AYAJ/fwF/YAN/f38Bf2ACf38AAxkYAwQBBQUABAAIAAIBAQMGAAYHCQIKAAIHBQMBAA8GJAd/AUEAC34BQgALfwFBAAt/AUEAC34BQgALfwFBAAt/AUEACwdwCgdyZXNlcnZlABAHaW5mbGF0ZQAFB2RlZmxhdGUAEgdwcmVkaWN0AAwJdW5wcmVkaWN0AAsJdW5odWZmbWFuAAkJdW5wYWNrUGl6AA0JdW5wYWNrQjQ0ABYLdW5wYWNrUHhyMjQACgZtZW1vcnkCAAwBBgrecxjtBgEIf0HACUEAQcAA/AsAA0AgASAGSgRAIAAgBmotAABBAnRBwAlqIgkgCSgCAEEBajYCACAGQQFqIQYMAQsLQcAJQQA2AgBBASEJQQEhBgJ/A0AgBkEPTARAIAZBAnQiCkHACWooAgAhCyAKQYAKaiAKQbwJaigCACAHakEBdCIHNgIAIAggC2ohCEEAIAlBAXQgC2siCUEASA0CGiAGQQFqIQYMAQsLIAkEfyAEQQJGIAhBAU1xBUEBCwtFBEBBAA8LQQEgA3QiCEEBayENIAJBACAIQQJ0/AsAQcAKQQAgCPwLACADQQFqIQkDQCAJQQ9MBEAgCUECdCIHQYAKaigCACEGIAdBwAlqKAIAIQoDQCAKBEAgBiIHQQFqIQZBACELQQAhDANAIAkgDEoEQCAHQQFxIAtBAXRyIQsgB0EBdiEHIAxBAWohDAwBCwsgCyANcUHACmogCSADazoAACAKQQFrIQoMAQsLIAlBAWohCQwBCwsgCCEGQQAhCQNAIAggCUoEQCAJQcAKai0AACIHBEBBASAHdCIKIAZqIAVKBEBBAA8LIAIgCUECdGogBkEIdEGAgICAAnIgB3I2AgAgAiAGQQJ0akEAIApBAnT8CwAgBiAKaiEGCyAJQQFqIQkMAQsLQQAhBQNAIAEgBUoEQCAAIAVqLQAAIgkEQCAJQQJ0QYAKaiIHKAIAIQYgByAGQQFqNgIAQQAhCEEAIQcDQCAHIAlIBEAgBkEBcSAIQQF0ciEIIAZBAXYhBiAHQQFqIQcMAQsLIAghBgJ/IAVBCHQgBEUNABogBEECRgRAQYCAgIABIAVBHUoNARogBUEBdEHYCGovAQBBCHQgBUGUCWotAABBGHRyDAELIAVBCHRBgICAgHhyIAVBgAJIDQAaQYCAgIAEIAVBgAJGDQAaQYCAgIABIAVBnQJKDQAaIAVBAXQvAf4DQQh0IAUtALkGQRh0cgsgCXIhByADIAlOBEADQCAGIA1NBEAgAiAGQQJ0aiAHNgIAIAZBASAJdGohBgwBCwsFIAIgAiAGIA1xQQJ0aigCACIIQQh2Qf//A3FBAnRqIQpBASAIdCEIIAYgA3YhBgNAIAYgCEkEQCAKIAZBAnRqIAc2AgAgBkEBIAkgA2t0aiEGDAELCwsLIAVBAWohBQwBCwtBAQulBgEGfyADQQAgAfwLAANAIAEgBkoEQCAAIAZBAnRqKAIAIgcEQCAEIgVBAWohBANAIAVBAEoEQCAHIAAgBUECdCIIQby4G2ooAgAiCUECdGooAgBJBEAgCEHAuBtqIAk2AgAgBUEBayEFDAILCwsgBUECdEHAuBtqIAY2AgALIAZBAWohBgwBCwsgBEUEQA8LIARBAUYEQCADQcC4GygCAGpBAToAAA8LQQAhAQNAIAEgBEgEQCABQQJ0IgVBwMEbaiAAIAVBwLgbaigCAEECdGooAgA2AgAgAUEBaiEBDAELC0EAIQUgBCIAQQF0QQFrIQkgACEBA0AgASAJSARAQQAhB0EAIQgDQCAIQQJIBEAgBCAFSiIGBH8gACABTgR/QQEFIAVBAnRBwMEbaigCACAAQQJ0QcDBG2ooAgBNCwUgBgsEQCAFIgZBAWohBQUgACIGQQFqIQALIAcgBkECdEHAwRtqKAIAaiEHIAZBAXRBwNMbaiABOwEAIAhBAWohCAwBCwsgAUECdEHAwRtqIAc2AgAgAUEBaiEBDAELC0HA4RtBAEGAAvwLACAJQQJ0QbzBG2pBADYCACAJQQJrIQADQCAAQQBOBEAgAEECdEHAwRtqIABBAXRBwNMbai8BAEECdEHAwRtqKAIAQQFqIgE2AgAgACAESARAIAEgAiABIAJIG0ECdEHA4RtqIgEgASgCAEEBajYCAAsgAEEBayEADAELC0EAIQBBASEBA0AgASACTARAIAAgAUECdEHA4RtqKAIAIAIgAWt0aiEAIAFBAWohAQwBCwsDQCAAQQEgAnRLBEAgAkECdEHA4RtqIgEgASgCAEEBazYCACACQQFrIQEDQCABQQBKBEACQCABQQJ0QcDhG2oiBSgCACIGBEAgBSAGQQFrNgIAIAUgBSgCBEECajYCBAwBCyABQQFrIQEMAgsLCyAAQQFrIQAMAQsLQQEhAANAIAAgAkwEQCAAQQJ0QcDhG2ooAgAhAQNAIAEEQCADIARBAWsiBEECdEHAuBtqKAIAaiAAOgAAIAFBAWshAQwBCwsgAEEBaiEADAELCwuBAgEFf0HA4RtBAEGAAvwLAANAIAEgA0oEQCAAIANqLQAAQQJ0QcDhG2oiBiAGKAIAQQFqNgIAIANBAWohAwwBCwtBwOEbQQA2AgBBASEDA0AgA0EPTARAIAQgBWpBAXQhBCADQQJ0QcDhG2oiBigCACEFIAYgBDYCACADQQFqIQMMAQsLQQAhBQNAIAEgBUoEQCAAIAVqLQAAIgcEQCAHQQJ0QcDhG2oiBCgCACEDIAQgA0EBajYCAEEAIQRBACEGA0AgBiAHSARAIANBAXEgBEEBdHIhBCADQQF2IQMgBkEBaiEGDAELCyACIAVBAXRqIAQ7AQALIAVBAWohBQwBCwsLmAMBBX8DQCABIAZKBEAgAC4BACEHIAAgBGoiCC4BACEJIAUEQCAAIAcgCUEBcWogCUEBdWoiBzsBACAIIAcgCWs7AQAFIAAgCSAHIAlB//8DcUEBdmsiB2pBgIACazsBACAIIAc7AQALIAAgA2oiBy4BACEIIAQgB2oiCS4BACEKIAUEQCAHIAggCkEBcWogCkEBdWoiBzsBACAJIAcgCms7AQAFIAcgCiAIIApB//8DcUEBdmsiB2pBgIACazsBACAJIAc7AQALIAAuAQAhByAAIANqIgguAQAhCSAFBEAgACAHIAlBAXFqIAlBAXVqIgc7AQAgCCAHIAlrOwEABSAAIAkgByAJQf//A3FBAXZrIgdqQYCAAms7AQAgCCAHOwEACyAAIARqIgcuAQAhCCAAIANqIARqIgkuAQAhCiAFBEAgByAIIApBAXFqIApBAXVqIgc7AQAgCSAHIAprOwEABSAHIAogCCAKQf//A3FBAXZrIgdqQYCAAms7AQAgCSAHOwEACyAGQQFqIQYgACACaiEADAELCwuBCgIMfwd7QQEhBwNAIAcgASADIAEgA0gbTARAIAdBAXQhBwwBCwsgB0EBdSIHQQF1IQgDQCAIQQBKBEAgASAHbSENIAdBAXQgAmwhECAIQQF0IgYgAmwhESAEIAZsIQ4gACEGQQAhDANAIAwgAyAHa0wEQCAQQQRGBEAgBiEJQQAhCwNAIAtBCGogDUwEQCAJ/QAEACIVIAn9AAQQIhP9DQIDBgcKCw4PEhMWFxobHh8hFiAJIA5qIgr9AAQAIhQgCv0ABBAiEv0NAgMGBwoLDg8SExYXGhseHyEXIBUgE/0NAAEEBQgJDA0QERQVGBkcHSETIBQgEv0NAAEEBQgJDA0QERQVGBkcHSESIAUEeyATIBL9DAEAAQABAAEAAQABAAEAAQD9Tv2OASASQQH9jAH9jgEFIBIgEyASQQH9jQH9kQH9jgH9DACAAIAAgACAAIAAgACAAID9jgELIRggBQR7IBMgEv0MAQABAAEAAQABAAEAAQABAP1O/Y4BIBJBAf2MAf2OASAS/ZEBBSATIBJBAf2NAf2RAQshFSAFBHsgFiAX/QwBAAEAAQABAAEAAQABAAEA/U79jgEgF0EB/YwB/Y4BBSAXIBYgF0EB/Y0B/ZEB/Y4B/QwAgACAAIAAgACAAIAAgACA/Y4BCyESIAUEeyAWIBf9DAEAAQABAAEAAQABAAEAAQD9Tv2OASAXQQH9jAH9jgEgF/2RAQUgFiAXQQH9jQH9kQELIRQgCSAFBHsgGCAS/QwBAAEAAQABAAEAAQABAAEA/U79jgEgEkEB/YwB/Y4BBSASIBggEkEB/Y0B/ZEB/Y4B/QwAgACAAIAAgACAAIAAgACA/Y4BCyITIAUEeyAYIBL9DAEAAQABAAEAAQABAAEAAQD9Tv2OASASQQH9jAH9jgEgEv2RAQUgGCASQQH9jQH9kQELIhL9DQABEBECAxITBAUUFQYHFhf9CwQAIAkgEyAS/Q0ICRgZCgsaGwwNHB0ODx4f/QsEECAJIA5qIgogBQR7IBUgFP0MAQABAAEAAQABAAEAAQABAP1O/Y4BIBRBAf2MAf2OAQUgFCAVIBRBAf2NAf2RAf2OAf0MAIAAgACAAIAAgACAAIAAgP2OAQsiEyAFBHsgFSAU/QwBAAEAAQABAAEAAQABAAEA/U79jgEgFEEB/YwB/Y4BIBT9kQEFIBUgFEEB/Y0B/ZEBCyIS/Q0AARARAgMSEwQFFBUGBxYX/QsEACAKIBMgEv0NCAkYGQoLGhsMDRwdDg8eH/0LBBAgC0EIaiELIAlBIGohCQwBCwsgCSANIAtrQQRBAiAOIAUQAwUgBiANIBAgESAOIAUQAwsgASAIcQRAIAYgDSAQbGoiCy4BACEJIAsgDmoiCi4BACEPIAUEQCALIAkgD0EBcWogD0EBdWoiCTsBACAKIAkgD2s7AQAFIAsgCSAPQf//A3FBAXZrIgkgD2pBgIACazsBACAKIAk7AQALCyAGIAdBAXQgBGxqIQYgByAMaiEMDAELCyADIAhxBEBBACELA0AgCyANSARAIAYuAQAhByAGIBFqIgouAQAhCSAFBEAgBiAHIAlBAXFqIAlBAXVqIgc7AQAgCiAHIAlrOwEABSAGIAcgCUH//wNxQQF2ayIHIAlqQYCAAms7AQAgCiAHOwEACyALQQFqIQsgBiAQaiEGDAELCwsgCCIHQQF1IQgMAQsLC5EEAQN/AkAgAUEGSA0AQQEgAC0AASIEQSBxIAAtAAAiBUEPcUEIRwR/QQEFIAVBCHQgBHJBH3ALGw0AIAAgAWpBBGshBCACIQEgAiADaiEFIABBAmokAEIAJAFBACQCQQAhAwNAIANFBEAjACAEQQhqSw0CIwEjACkDACMCrIaEJAEjAEE/IwJrQQN2aiQAIwJBOHIkAiMBQgGDpyEDIwFCAYgkASMCQQFrJAIjAUIDg6chACMBQgKIJAEjAkECayQCIABFBEAjACMCQQN1ayQAQgAkAUEAJAIjAEEEaiIGIARLDQMjAC8BACIAIwAvAQJzQf//A0cNAyAGJAAjACAAaiAESw0DIAAgAmogBUsEQEF+DwsgAiMAIAD8CgAAIwAgAGokACAAIAJqIQIMAgsgAEEDRgR/QQAFIABBAUYEf0HAmgNBCEGQAfwLAEHQmwNBCUHwAPwLAEHAnANBB0EY/AsAQdicA0KIkKDAgIGChAg3AABBwJ4DQQVBIPwLAEHAmgNBoAJBwBpBC0EBQYDAABAABH9BwJ4DQSBBwJoCQQhBAkGAIBAABUEACwUgBBAOCwtFDQIgASACIAUgBBAPIgJBAEgEQCACDwsMAQsLIwAjAkEDdWskACMAIARLDQBBfSACIAFrIgAgASAAEAgjACgCACIAQYD+g3hxQQh3IABB/4H8B3FBCHhyRxsPC0F/C9wLAQ1/QaCnG0GgpxsoAgBBAWo2AgBBoJ8bQZ4CQQ9B8KkbEAFBoKgbQR5BD0GQrBsQAUGeAiEOA0AgDkGBAkoEfyAOQe+pG2otAAAFQQELRQRAIA5BAWshDgwBCwtBHiEMA0AgDEEBSgR/IAxBj6wbai0AAAVBAQtFBEAgDEEBayEMDAELC0GgqRtBAEHMAPwLACAMIA5qIQgDQCAIIA1KBEAgDUHwqRtqIA1BkKwbaiAOayANIA5IGy0AACELQQEhBQNAIAUgDWoiBCAISAR/IAsgBEHwqRtqIARBkKwbaiAOayAEIA5IGy0AAEYFQQALBEAgBUEBaiEFDAELCyAFIA1qIQ1BASEHA0AgBUEASgRAQQAhCkEBIQQgC0UgBUELTnEEf0GKASAFIAVBigFOGyIEQQtrIQpBEgUgC0UgBUEDTnEEfyAFIQQgBUEDayEKQREFIAdFIAVBA05xBH9BBiAFIAVBBk4bIgRBA2shCkEQBSALCwsLIQZBACEHIAUgBGshBSAGQQJ0QaCpG2oiBCAEKAIAQQFqNgIAIBBBAXRBwNwbaiAGIApBCHRyOwEAIBBBAWohEAwBCwsMAQsLA0AgD0GeAkgEQCAJIA9BAnRBoJ8baigCACAPQYACSgR/IA8tALkGBUEACyAPQfCpG2otAABqbGohCSAPQQFqIQ8MAQsLQQAhDwNAIA9BHkgEQCAJIA9BAnRBoKgbaigCACAPQZQJai0AACAPQZCsG2otAABqbGohCSAPQQFqIQ8MAQsLIAlBA3ZB5ABqIAJLBEADQCMEQf//AyACIAJB//8DThsiBCACRkEAIAMbQQBHrSMFrIaEJAQjBUEDaiQFIwVBIE4EQCMDIwQ+AgAjA0EEaiQDIwRCIIgkBCMFQSBrJAULA0AjBUEASgRAIwMiAEEBaiQDIAAjBDwAACMEQgiIJAQjBUEIayQFDAELC0IAJARBACQFIwMgBDsBACMDIARBf3M7AQIjA0EEaiABIAT8CgAAIwMgBEEEamokAyABIARqIQEgAiAEayICDQALBUGgqRtBE0EHQbCsGxABQfCpG0GeAkHQrBsQAkGQrBtBHkGQsRsQAkGwrBtBE0HQsRsQAkETIQEDQCABQQRKBH8gAUGfuBtqLQAAQbCsG2otAAAFQQELRQRAIAFBAWshAQwBCwsjBCADQQBHrSMFrIaEJAQjBUEBaiQFIwVBIE4EQCMDIwQ+AgAjA0EEaiQDIwRCIIgkBCMFQSBrJAULIwRCAiMFrIaEJAQjBUECaiQFIwVBIE4EQCMDIwQ+AgAjA0EEaiQDIwRCIIgkBCMFQSBrJAULIwQgDkGBAmutIwWshoQkBCMFQQVqJAUjBUEgTgRAIwMjBD4CACMDQQRqJAMjBEIgiCQEIwVBIGskBQsjBCAMQQFrrSMFrIaEJAQjBUEFaiQFIwVBIE4EQCMDIwQ+AgAjA0EEaiQDIwRCIIgkBCMFQSBrJAULIwQgAUEEa60jBayGhCQEIwVBBGokBSMFQSBOBEAjAyMEPgIAIwNBBGokAyMEQiCIJAQjBUEgayQFC0EAIQIDQCABIAJKBEAjBCACQaC4G2otAABBsKwbajEAACMFrIaEJAQjBUEDaiQFIwVBIE4EQCMDIwQ+AgAjA0EEaiQDIwRCIIgkBCMFQSBrJAULIAJBAWohAgwBCwtBACEBA0AgASAQSARAIAFBAXRBwNwbai8BACIEQf8BcSIDQbCsG2otAAAhAiMEIANBAXRB0LEbajMBACMFrIaEJAQjBSACaiQFIwVBIE4EQCMDIwQ+AgAjA0EEaiQDIwRCIIgkBCMFQSBrJAULIANBD0sEQCMEIARBCHatIwWshoQkBCADQRBGBH9BAgVBA0EHIANBEUYbCyMFaiQFIwVBIE4EQCMDIwQ+AgAjA0EEaiQDIwRCIIgkBCMFQSBrJAULCyABQQFqIQEMAQsLIAAQEQtBoJ8bQQBBgAn8CwBBoKgbQQBBgAH8CwALlgICCH8BfkGCAiADIAFrIgMgA0GCAkobIQYgAUGAgAJrIQtBAyEDQQYhBwNAIAdBAEogAkEATnEgAiALSnEEQAJAIAAgAmoiCCADai0AACAAIAFqIgkgA2otAABGBEBBACEEAkADQCAEQQhqIgUgBkwEQCAEIAQgCGopAwAgBCAJaikDAIUiDHpCA4inaiEEIAxCAFINAiAFIQQMAQsLA0AgBCAGSAR/IAQgCGotAAAgBCAJai0AAEYFQQALBEAgBEEBaiEEDAELCwsgAyAESARAIAEgAmshCiAGIAQiA0YgBEEYTnINAgsLIAJB//8BcUECdEGgnwtqKAIAIQIgB0EBayEHDAILCwsgA0EQdCAKckEAIAobC5wDAgR/BXtBASEDA0AgAUEQTgRAIAFB1AIgAUEEdSIBIAFB1AJOGyIFQQR0IgJrIQEgBCACIANsaiEE/QwAAAAAAAAAAAAAAAAAAAAAIQb9DAAAAAAAAAAAAAAAAAAAAAAhB/0MAAAAAAAAAAAAAAAAAAAAACEIQQAhAgNAIAIgBUgEQCAA/QAEACEKIABBEGohACAHIAb9rgEhByAGIAr9iQEiCSAK/YoBIgr9jgH9fv2uASEGIAggCf0MEAAPAA4ADQAMAAsACgAJAP26ASAK/QwIAAcABgAFAAQAAwACAAEA/boB/a4B/a4BIQggAkEBaiECDAELCyADIAb9GwAgBv0bAWogBv0bAmogBv0bA2pqQfH/A3AhAyAI/RsAIAj9GwFqIAj9GwJqIAj9GwNqIAQgB/0bACAH/RsBaiAH/RsCaiAH/RsDakHx/wNwQQR0ampB8f8DcCEEDAELCwNAIAFBAEoEQCAAIgJBAWohACAEIAMgAi0AAGoiA2ohBCABQQFrIQEMAQsLIANB8f8DcCAEQfH/A3BBEHRyC5YDAgh/AX4gASADckUEQEEADwsgAUEUSARAQXwPCyAAKAIMIQcgACgCBCIGQYGABE8gACgCACIEQYGABE9yIAQgBktyBEBBew8LIABBFGohCCABQRRrIgpBA3QhCUHA4xtBAEGBgAT8CwBBACEBIAQhAAJ/A0AgACAGTARAQXwgAUEGaiIFIAlKDQIaIAggAUEDdmopAwAiDEIIiEL/gfyH8J/A/wCDIAxC/4H8h/CfwP8Ag0IIhoQiDEIQiEL//4OA8P8/gyAMQv//g4Dw/z+DQhCGhEIgiiABQQdxrIYiDEI6iKchCyAFIQECQCALQTtJBEAgAEHA4xtqIAs6AAAMAQsgC0E5ayEFIAtBP0YEQEF8IAFBCGoiASAJSg0EGiAMQgaGQjiIp0EGaiEFC0F7IAAgBWogBkEBakoNAxogACAFQQFraiEACyAAQQFqIQAMAQsLIAELIgBBAEgEQCAADwsgCqwgAEEHakEDdiIArCAHrUIHfEIDiHxUBEBBfA8LIAQgBhAUIAAgCGogByAGIAIgAxATC9MFAgp/AnsDQCAFIAIoAghIBEAgBiACQQxqIAVBGGxqIgYoAgggBigCDGwgBigCAEEBRgR/QQIFQQNBBCAGKAIAGwtsaiEGIAVBAWohBQwBCwsgACABIAMgBhAFIgBBAEgEQCAADwsgACAGRwRAQXYPCyACKAIAIQYDQCAGIAIoAgAgAigCBGpIBEBBACEFA0AgBSACKAIISARAIAYgAkEMaiAFQRhsaiIHKAIEb0UEQCAHKAIIIQwgBygCACIIQQFGBEAgAyAMaiEJ/QwAAAAAAAAAAAAAAAAAAAAAIQ9BACEBA0AgAUEIaiIAIAxMBEAgASAJav1dAwAgASADav1dAwD9DQAQARECEgMTBBQFFQYWBxciEP0MAAAAAAAAAAAAAAAAAAAAACAQ/Q0AARAREhMUFRYXGBkaGxwd/Y4BIhD9DAAAAAAAAAAAAAAAAAAAAAAgEP0NAAEAARAREhMUFRYXGBkaG/2OASIQ/QwAAAAAAAAAAAAAAAAAAAAAIBD9DQABAAEAAQABEBESExQVFhf9jgEgD/2OASIQIBD9DQ4PDg8ODw4PDg8ODw4PDg8hDyAEIAFBAXRqIBD9CwQAIAAhAQwBCwsgD/0ZAEH//wNxIQADQCABIAxIBEAgBCABQQF0aiAAIAEgCWotAAAgASADai0AAEEIdHJqIgA7AQAgAUEBaiEBDAELCwUgCEUhCSADIAxqIg0gDGoiCiAMaiELQQAhAEEAIQEDQCABIAxJBEAgASADai0AAEEYdCABIA1qLQAAQRB0ciABIApqLQAAQQh0ciEOIAQgAUECdGogCQR/IA4gASALai0AAHIFIA4LIABqIgA2AgAgAUEBaiEBDAELCwsgBCAMQQJBBCAIQQFGG2xqIQQgAyAHKAIAQQFGBH9BAgVBA0EEIAcoAgAbCyAMbGohAwsgBUEBaiEFDAELCyAGQQFqIQYMAQsLQQALuAUCCH8FeyABQQF1IQogAUEBakEBdSIHIABqIQX9DIAAgACAAIAAgACAAIAAgAD9DACAAIAAgACAAIAAgACAAIAgB0EBcRshDQNAIANBEGoiBiAHTARAIAsgACADav0ABAD9biELIAYhAwwBCwsgCyALQQj9ywH9biILIAtBEP3LAf1uIgsgC0Eg/csB/W4iCyAL/Qz//////////wcHBwcHBwcH/Q79bv0WDyEGA0AgAyAHSARAIAYgACADai0AAGohBiADQQFqIQMMAQsL/QwAAAAAAAAAAAAAAAAAAAAAIQsgBv0PIQwDQCAEQRBqIgMgCkwEQCAA/QAEACIOIA5BCP3LAf1uIg4gDkEQ/csB/W4iDiAOQSD9ywH9biIOIA79DP//////////BwcHBwcHBwf9Dv1uIAv9biIO/QwPDw8PDw8PDw8PDw8PDw8P/Q4hCyAF/QAEACIPIA9BCP3LAf1uIg8gD0EQ/csB/W4iDyAPQSD9ywH9biIPIA/9DP//////////BwcHBwcHBwf9Dv1uIAz9biIP/QwPDw8PDw8PDw8PDw8PDw8P/Q4hDCACIA79DACAAIAAgACAAIAAgACAAID9USIOIA8gDf1RIg/9DQAQARECEgMTBBQFFQYWBxf9CwQAIAIgDiAP/Q0IGAkZChoLGwwcDR0OHg8f/QsEECAAQRBqIQAgBUEQaiEFIAJBIGohAiADIQQMAQsLIAv9FgAhCCAM/RYAIQkDQCAEIApIBEAgACIDQQFqIQAgBSIGQQFqIQUgCSAGLQAAaiEJIAIgCCADLQAAaiIIQYABQQAgBEEBcRtzOgAAIAIgCUGAAUEAIAQgB2pBAXEbczoAASACQQJqIQIgBEEBaiEEDAELCyABQQFxBEAgAiAIIAAtAABqQYABQQAgBEEBcRtzOgAACwvCAgIEfwJ7IAIiBSABQQFqQQF1aiEGA0AgA0EgaiIEIAFMBEAgBSAAIANqIgP9AAQAIgggA/0ABBAiB/0NAAIEBggKDA4QEhQWGBocHv0LBAAgBiAIIAf9DQEDBQcJCw0PERMVFxkbHR/9CwQAIAVBEGohBSAGQRBqIQYgBCEDDAELCwNAIAEgA0oEQCADQQFxBEAgBiIEQQFqIQYFIAUiBEEBaiEFCyAEIAAgA2otAAA6AAAgA0EBaiEDDAELCyABIQMDQCADQRBrIgBBAEoEQCACIANqQRBrIgEgAf0ABAAgAUEBa/0ABAD9cf0MgICAgICAgICAgICAgICAgP1u/QsEACAAIQMMAQsLIANBAWshAwNAIANBAEoEQCACIANqIgAgAC0AACAAQQFrLQAAa0GAAWo6AAAgA0EBayEDDAELCwvaBAEGfyABQQRIBEBBfA8LIAAvAQIiCEGAwABPIAAvAQAiBkGAwABPcgRAQXgPCyAAIAFqIgsgAEEEaiIJIAggBmtBAWpqIAkgBiAITBsiCkEEakkEQEF8DwtBkO0zQQBBgIAI/AsAQQEhByAGIQADQCAAIAhMBEAgCSAAIAZrai0AACIBIAFBfnEgABshAQNAIAEEQCAHQQF0QZDtM2ogAWggAEEDdGo7AQAgB0EBaiEHIAEgAUEBa3EhAQwBCwsgAEEBaiEADAELCyAKKAIAIgBBAEggCkEEaiIBIABqIAtLcgRAQXcPCyABIAAgAyAFQQF1EAkiAARAIAAPCyAHQQFrIQVBACEBA0AgASACKAIISARAQQFBAiACQQxqIAFBGGxqIgYoAgBBAUYbIgcgBigCCGwhCCAGIAM2AhRBACEAA0AgACAHSARAIAMgAEEBdGohCSAGKAIIIQogBigCDCELIAVBgIABSARAIAkgCiAHIAsgCEEBEAQFIAkgCiAHIAsgCEEAEAQLIABBAWohAAwBCwsgAyAGKAIMIAhBAXRsaiEDIAFBAWohAQwBCwsgAigCACEFA0AgBSACKAIAIAIoAgRqSARAQQAhAQNAIAEgAigCCEgEQCAFIAJBDGogAUEYbGoiACgCBG9FBEAgACAAKAIUIgMgACgCCEECQQQgACgCAEEBRhtsajYCFANAIAMgACgCFEkEQCAEIAMvAQBBAXRBkO0zai8BADsBACADQQJqIQMgBEECaiEEDAELCwsgAUEBaiEBDAELCyAFQQFqIQUMAQsLQQAL6wQBB38jAUIfg6chAiMBQgWIJAEjAkEFayQCIwFCH4OnIQMjAUIFiCQBIwJBBWskAiMBQg+DpyMBQgSIJAEjAkEEayQCQQRqIQQCQCADQQFqIgNBHkogAkGBAmoiBUGeAkpyDQBBwJoDQQBBE/wLAANAIAEgBEgEQCMCQQNIBEAjASMAKQMAIwKshoQkASMAQT8jAmtBA3ZqJAAjAkE4ciQCCyABQYCfA2otAABBwJoDaiMBQgeDpyMBQgOIJAEjAkEDayQCOgAAIAFBAWohAQwBCwtBwJoDQRNBwJoCQQdBAEGAIBAARQ0AIAMgBWohBEHAmgNBAEGABPwLAEEAIQEDQCABIARIBEAjACAAQQhqSw0CIwEjACkDACMCrIaEJAEjAEE/IwJrQQN2aiQAIwJBOHIkAiMBQv8Ag6dBAnRBwJoCaigCACICQf8BcSIGRQ0CIwEgBqyIJAEjAiAGayQCIAJBCHYiBkEQSQRAIAEiAkEBaiEBIAJBwJoDaiAGOgAADAILIAZBEEYiAiABRXENAiACBH8gAUG/mgNqLQAABUEACyEHIAZBEEYEfyMBQgODpyMBQgKIJAEjAkECayQCQQNqBSAGQRFGBH8jAUIHg6cjAUIDiCQBIwJBA2skAkEDagUjAUL/AIOnIwFCB4gkASMCQQdrJAJBC2oLCyIGIAFqIgIgBEoNAiABQcCaA2ogByAG/AsAIAIhAQwBCwtBwJwDLQAARQ0AQcCeAyAFQcCaA2ogA/wKAABBwJoDIAVBwBpBC0EBQYDAABAABH9BwJ4DIANBwJoCQQhBAkGAIBAABUEACw8LQQALpAcDCH8CfgF7IwAhCSMBIQwjAiEHA0ACQCAJIANBCGpLBEBBfw8LIAwgCSkDACAHrIaEIQwgCUE/IAdrQQN2aiEJIAdBOHIhBCAMQv8Pg6dBAnRBwBpqKAIAIgVBgICAgHhxBEAgAUEDaiACQQJqSwRAQX4PCyAEIAVB/wFxIgZrIQcgASIEQQFqIQEgBCAFQQh2OgAAIAwgBq2IIgxC/w+Dp0ECdEHAGmooAgAiBUGAgICAeHEEQCAHIAVB/wFxayEHIAEiBEEBaiEBIAQgBUEIdjoAACAMIAVB/wFxrYgiDEL/D4OnQQJ0QcAaaigCACIFQYCAgIB4cQRAIAwgBUH/AXGtiCEMIAcgBUH/AXFrIQcgASIEQQFqIQEgBCAFQQh2OgAADAQLCyAMIAkpAwAgB6yGhCEMIAlBPyAHa0EDdmohCSAHQThyIQQLIAVBgICAgAJxBEBCASAFQf8Bca2GQgF9IAxCC4iDpyAFQQh2Qf//A3FqQQJ0QcAaaigCACIFQYCAgIB4cQRAIAEgAk8EQEF+DwsgDCAFQf8BcSIGrYghDCAEIAZrIQcgASIEQQFqIQEgBCAFQQh2OgAADAMLCyAFQYCAgIABcUEBIAVB/wFxIgYbBEBBfw8LIAwgBqyIIQwgBCAGayEGIAVBgICAgARxDQAgDEIBIAVBGHZBB3EiB60iDYZCAX2DpyAFQQh2Qf8DcWohCCAMIA2IIgxC/wGDp0ECdEHAmgJqKAIAIgRBgICAgAJxBEBCASAEQf8Bca2GQgF9IAxCCIiDpyAEQQh2Qf//A3FqQQJ0QcCaAmooAgAhBAsgBEGAgICAAXFBASAEQf8BcSIFGwRAQX8PCyAMIAWsiCIMQgEgBEEYdkEPcSIKrSINhkIBfYOnIARBCHZB//8BcWohCyAMIA2IIQwgBiAHayAFayAKayEHIAsgASAAa0sEQEF/DwsgASAIaiACSwRAQX4PCyAIIAEiBGohCiABIAtrIQUgC0EQTgRAA0AgBCAF/QAEAP0LBAAgBUEQaiEFIAogBEEQaiIESw0ACwUgC0EBRgRAIAUsAAD9DyEOA0AgBCAO/QsEACAKIARBEGoiBEsNAAsFIAtBCE4EQANAIAQgBSkDADcDACAFQQhqIQUgCiAEQQhqIgRLDQALBQNAIAUiBkEBaiEFIAQgBi0AADoAACAKIARBAWoiBEsNAAsLCwsgASAIaiEBDAELCyAJJAAgDCQBIAYkAiABCysAIABBr+0/akEQdj8AayIAQQBKBH8gAEAAQQBIBUEACwRAQQAPC0Gw7TsLtAQBBX8DQCAAIAFKBEACQCABQQJ0QaCfE2ooAgAiAkEQdiIDRQRAIAJB8Kkbai0AACEDIwQgAkEBdEHQrBtqMwEAIwWshoQkBCMFIANqJAUjBUEgTgRAIwMjBD4CACMDQQRqJAMjBEIgiCQEIwVBIGskBQsMAQsgA0GQshtqLQAAIgRB8asbai0AACEFIwQgBEEBdEHSsBtqMwEAIwWshoQkBCMFIAVqJAUjBUEgTgRAIwMjBD4CACMDQQRqJAMjBEIgiCQEIwVBIGskBQsgBEG6CGotAAAiBQRAIwQgAyAEQQF0QYAIai8BAGutIwWshoQkBCMFIAVqJAUjBUEgTgRAIwMjBD4CACMDQQRqJAMjBEIgiCQEIwVBIGskBQsLIAJB//8DcSICQQFrIgMgA0EHdUGAAmogA0GAAkgbQaC0G2otAAAiA0GQrBtqLQAAIQQjBCADQQF0QZCxG2ozAQAjBayGhCQEIwUgBGokBSMFQSBOBEAjAyMEPgIAIwNBBGokAyMEQiCIJAQjBUEgayQFCyADQZQJai0AACIEBEAjBCACIANBAXRB2AhqLwEAa60jBayGhCQEIwUgBGokBSMFQSBOBEAjAyMEPgIAIwNBBGokAyMEQiCIJAQjBUEgayQFCwsLIAFBAWohAQwBCwtB8KsbLQAAIQAjBEHQsBszAQAjBayGhCQEIwUgAGokBSMFQSBOBEAjAyMEPgIAIwNBBGokAyMEQiCIJAQjBUEgayQFCwv7BwEJfyMGRQRAA0AgBEEdSARAIARBAXRBgAhqLwEAIQZBACEFA0AgBUEBIARBughqLQAAdEgEQCAFIAZqQYICTARAIAZBkLIbaiAFaiAEOgAACyAFQQFqIQUMAQsLIARBAWohBAwBCwtBACEEA0AgBEEeSARAIARBAXRB2AhqLwEAQQFrIQZBASAEQZQJai0AAHQhCUEAIQUDQCAFIAlIBEAgBSAGaiIKQYACSARAIApBoLQbaiAEOgAABSAKQQd1QaC2G2ogBDoAAAsgBUEBaiEFDAELCyAEQQFqIQQMAQsLQQEkBgtBoJ8DQf8BQYCACPwLAEGgnxtBAEGACfwLAEGgqBtBAEGAAfwLACACJANCACQEQQAkBSMDIgRBAWokAyAEQfgAOgAAIwMiBEEBaiQDIARB3gA6AABBACEEIAFBDGshCQNAIAEgBEoEQCAEQQFqIgogCUhBACAEIAlIBH8gACAEaigCAEGx893xeWxBEXZBAnRBoJ8DaiIFKAIAIQYgBSAENgIAIARB//8BcUECdEGgnwtqIAY2AgAgACAEIAYgARAHBUEACyIFQRB2IgZBGElBACAFGxsEQCAFQQAgACAKIAAgBGooAgFBsfPd8XlsQRF2QQJ0QaCfA2ooAgAgARAHQRB2IAZNGyEFCyAFBEBBACEIIAVBEHYiBkGQshtqLQAAQQJ0QaSnG2oiCiAKKAIAQQFqNgIAIAVB//8DcUEBayIKIApBB3VBgAJqIApBgAJIG0GgtBtqLQAAQQJ0QaCoG2oiCiAKKAIAQQFqNgIAIAdBAnRBoJ8TaiAFNgIAIAdBAWohByAEIAZqIQUgBEEBaiEEA0AgBCAFSARAIAQgCUgEQCAAIARqKAIAQbHz3fF5bEERdkECdEGgnwNqIgYoAgAhCiAGIAQ2AgAgBEH//wFxQQJ0QaCfC2ogCjYCAAsgBEECaiEEDAELCyAFIQQFIAhBBnVBAWoiBSABIARrIgYgBSAGSBshCkHAAyAIQQFqIgUgBUHAA04bIQhBACEGA0AgBiAKSARAIAQiBUEBaiEEIAAgBWotAAAiC0ECdEGgnxtqIgUgBSgCAEEBajYCACAHQQJ0QaCfE2ogCzYCACAHQQFqIQcgBkEBaiEGDAELCwsgB0Hw/wFOBEAgByAAIANqIAQgA2sgASAERhAGQQAhByAEIQMLDAELCyABRSAHQQBKcgRAIAcgACADaiABIANrQQEQBgsDQCMFQQBKBEAjAyIDQQFqJAMgAyMEPAAAIwRCCIgkBCMFQQhrJAUMAQsLQgAkBEEAJAUjAyAAIAEQCCIAQYD+g3hxQQh3IABB/4H8B3FBCHhyNgIAIwNBBGogAmsLuwUCBX8CfiADIQUgAyAEQQF0aiEIQQAhBANAIAMgCEkEQCABIARIBEBBeg8LIAAgBEEDdmopAwAiCkIIiEL/gfyH8J/A/wCDIApC/4H8h/CfwP8Ag0IIhoQiCkIQiEL//4OA8P8/gyAKQv//g4Dw/z+DQhCGhEIgiiAEQQdxrIYhCkEEIQcDQCAKQjKIp0ECdEHg4y9qKAIAIgZFIAZB//8HcSACRnJFBEAgAyAGOwEAIAogBkERdiIJrYYhCiAEIAlqIQQgCCADQQJqIgNLQQAgB0EBayIHGw0BCwsgB0UgAyAIT3INASAGRQRAIAAgBEEDdmoiBikDACIKQgiIQv+B/Ifwn8D/AIMgCkL/gfyH8J/A/wCDQgiGhCIKQhCIQv//g4Dw/z+DIApC//+DgPD/P4NCEIaEQiCKIARBB3GsIgqGIAYxAAhCCCAKfYiEIQpBDyEGAn8DQCAGQTpMBEACQCAGQQJ0IgdBAXRBsOkzaikDACILIApWDQAgCiALfULAACAGrH2IIgsgB0Hg4zNqNQIAWg0AIAdB0OUzaigCACALp2pBAnRB0OMfaigCACAGQRF0cgwDCyAGQQFqIQYMAQsLQQALIQYLIAZFBEBBeg8LIAQgBkERdmoiBCABSgRAQXoPCyAGQf//B3EiBiACRwRAIAMgBjsBACADQQJqIQMMAgsgAyAFRiADIAAgBEEDdmopAwAiCkIIiEL/gfyH8J/A/wCDIApC/4H8h/CfwP8Ag0IIhoQiCkIQiEL//4OA8P8/gyAKQv//g4Dw/z+DQhCGhEIgiiAEQQdxrIZCOIinIgZBAXRqIAhLciAEQQhqIgQgAUpyBEBBeQ8LIANBAmsvAQAhByADIAZBAXRqIQYDQCADIAZJBEAgAyAHOwEAIANBAmohAwwBCwsMAQsLQXpBACABIARIGwupAwIEfwJ+QeDjM0EAQewB/AsAQeDjL0EAQYCABPwLACAAIQIDQCABIAJOBEAgAkHA4xtqLQAAQQJ0QeDjM2oiAyADKAIAQQFqNgIAIAJBAWohAgwBCwtBOiECA0AgAkEASgRAIAJBA3RBsOkzaiAGQsAAIAKsfYY3AwAgBiACQQJ0QeDjM2o1AgB8QgGIIQYgAkEBayECDAELC0EAIQJBASEDA0AgA0E6TARAIANBAnQiBEHQ5TNqIAI2AgAgBEHA5zNqIAI2AgAgAiAEQeDjM2ooAgBqIQIgA0EBaiEDDAELCwNAIAAgAUwEQAJAIABBwOMbai0AACIDRQ0AIANBAnQiBEHA5zNqIgUoAgAhAiAFIAJBAWo2AgAgAkECdEHQ4x9qIAA2AgAgA0EOSw0AQoCAASACIARB0OUzaigCAGusQQ4gA2usIgeGIARBAXRBsOkzaikDAEIyiHwiBkIBIAeGfCIHIAdCgIABWhshByADQRF0IAByIQIDQCAGIAdUBEAgBqdBAnRB4OMvaiACNgIAIAZCAXwhBgwBCwsLIABBAWohAAwBCwsL1AMCC38CeyAAKAIIIQcgACgCDCEIIAAoAhAhCUEAIQADQCAAIAhIBEBBBCAIIABrIgQgBEEEShshDUEAIQYDQCAGIAdIBEAgAUEDaiACSwRAQQAPCyABLQACQTRPBH8gAS8BACIEQQh0IARBCHZy/RAiDyEQIAFBA2oFIAFBDmogAksEQEEADwsgARAXQZDtO/0ABAAhD0Gg7Tv9AAQAIRAgAUEOagshAUGQ7TsgDyAPQQ/9jAH9Tf0MAIAAgACAAIAAgACAAIAAgP1Q/VH9CwQAQaDtOyAQIBBBD/2MAf1N/QwAgACAAIAAgACAAIAAgACA/VD9Uf0LBAAgCQRAQQAhBANAIARBIEkEQCAEQZDtO2oiBSAJIAUvAQBBAXRqLwEAOwEAIARBAmohBAwBCwsLQQQgByAGayIEIARBBEobIQpBACEEA0AgBCANSARAIAMgACAEakECdGooAgAgBkEBdGohCyAEQQN0QZDtO2ohDCAKQQRGBEAgCyAMKQMANwMABUEAIQUDQCAFIApJBEAgBUEBdCIOIAtqIAwgDmovAQA7AQAgBUEBaiEFDAELCwsgBEEBaiEEDAELCyAGQQRqIQYMAQsLIABBBGohAAwBCwsgAQvDAgEHfyAAIAFqIQpBACEBA0AgASACKAIISARAIAJBDGogAUEYbGohCSAEIQUgAyEGIAIoAgAhBwNAIAcgAigCACACKAIEakgEQEEAIQgDQCAIIAIoAghIBEAgByACQQxqIAhBGGxqIgsoAgRvRQRAIAEgCEYEQCAGIAU2AgAgBkEEaiEGCyAFIAsoAghBAkEEIAsoAgBBAUYbbGohBQsgCEEBaiEIDAELCyAHQQFqIQcMAQsLIAkoAgBBAUYEfyAJIAAgCiADEBUFIAkoAghBAkEEIAkoAgBBAUYbbCEHQQAhBQJ/A0AgBSAJKAIMSARAQQAgACAHaiIGIApLDQIaIAMgBUECdGooAgAgACAH/AoAACAFQQFqIQUgBiEADAELCyAACwsiAEUEQEF8DwsgAUEBaiEBDAELC0F2QQAgACAKRxsLwgQCDX8CfkEgIAApAwAiDkIIiEL/gfyH8J/A/wCDIA5C/4H8h/CfwP8Ag0IIhoQiDkIQiEL//4OA8P8/gyAOQv//g4Dw/z+DQhCGhEIgiiIOQiqIp0E/cSIBdCECIA5CMIinIgMgDkIkiKdBP3EgAXQgAmtqIgQgDkIeiKdBP3EgAXQgAmtqIgUgDkIYiKdBP3EgAXQgAmtqIQYgAyAOQhKIp0E/cSABdCACa2oiCCAAKQMGIg9CCIhC/4H8h/CfwP8AgyAPQv+B/Ifwn8D/AINCCIaEIg9CEIhC//+DgPD/P4MgD0L//4OA8P8/g0IQhoRCIIoiD0IqiKdBP3EgAXQgAmtqIQwgBCAOQgyIp0E/cSABdCACa2oiCSAPQiSIp0E/cSABdCACa2ohDSAFIA5CBoinQT9xIAF0IAJraiIKIA9CHoinQT9xIAF0IAJraiEAIAYgDqdBP3EgAXQgAmtqIgsgD0IYiKdBP3EgAXQgAmtqIQdBkO07IAM7AQBBku07IAg7AQBBlO07IAw7AQBBlu07IAwgD0ISiKdBP3EgAXQgAmtqOwEAQZjtOyAEOwEAQZrtOyAJOwEAQZztOyANOwEAQZ7tOyANIA9CDIinQT9xIAF0IAJrajsBAEGg7TsgBTsBAEGi7TsgCjsBAEGk7TsgADsBAEGm7TsgACAPQgaIp0E/cSABdCACa2o7AQBBqO07IAY7AQBBqu07IAs7AQBBrO07IAc7AQBBru07IAcgD6dBP3EgAXQgAmtqOwEACwvxAQYAQYAICzoDAAQABQAGAAcACAAJAAoACwANAA8AEQATABcAGwAfACMAKwAzADsAQwBTAGMAcwCDAKMAwwDjAAIBAEHCCAsUAQEBAQICAgIDAwMDBAQEBAUFBQUAQdgICzwBAAIAAwAEAAUABwAJAA0AEQAZACEAMQBBAGEAgQDBAAEBgQEBAgEDAQQBBgEIAQwBEAEYASABMAFAAWAAQZgJCxoBAQICAwMEBAUFBgYHBwgICQkKCgsLDAwNDQBBgJ8DCxMQERIACAcJBgoFCwQMAw0CDgEPAEGguBsLExAREgAIBwkGCgULBAwDDQIOAQ8=";

// src/core/kernels/runtime/wasm.ts
function wasmBytes(base64) {
  return Uint8Array.from(atob(base64), (letter) => letter.charCodeAt(0));
}
var MEMORY_IMPORT = [3, ...ascii("env"), 6, ...ascii("memory"), 2];
function ascii(text) {
  return Array.from(text, (letter) => letter.charCodeAt(0));
}

// src/core/kernels/codecs/wasm.ts
var loaded;
function kernel() {
  if (loaded) return loaded;
  const abort = () => {
    throw new Error("the codecs kernel stopped");
  };
  loaded = new WebAssembly.Instance(new WebAssembly.Module(wasmBytes(WASM)), { env: { abort } }).exports;
  return loaded;
}
var SLACK = 512;
var CallMemory = class {
  starts = [];
  /** Takes `sizes` bytes each, with space behind each. */
  constructor(...sizes) {
    let bytes = 0;
    for (const size of sizes) {
      this.starts.push(bytes);
      bytes += size + SLACK + 15 & ~15;
    }
    const first = kernel().reserve(bytes);
    if (first === 0)
      throw new RangeError(`Array buffer allocation failed: ${bytes} bytes for the codecs kernel`);
    this.starts = this.starts.map((start) => first + start);
  }
  /** Where piece `index` begins. */
  at(index) {
    return this.starts[index];
  }
  /** Puts bytes at the beginning of a piece, and zeros behind them. */
  put(index, values) {
    const at = this.at(index);
    const bytes = new Uint8Array(kernel().memory.buffer);
    bytes.set(values, at);
    bytes.fill(0, at + values.length, at + values.length + SLACK);
    return at;
  }
};
function bytesAt(at, size) {
  return new Uint8Array(kernel().memory.buffer, at, size);
}
var FAULTS = {
  [-1]: "damaged",
  [-2]: "too long",
  [-3]: "checksum",
  [-4]: "ends early",
  [-5]: "bad codes",
  [-6]: "unknown code",
  [-7]: "long run",
  [-8]: "bad values",
  [-9]: "bad extent",
  [-10]: "wrong size"
};
var faultOf = (result) => FAULTS[result];
function inflateInside(packed, size) {
  const memory = new CallMemory(size, Math.max(size, packed.length));
  const written = kernel().inflate(memory.put(1, packed), packed.length, memory.at(0), size);
  if (written < 0) return faultOf(written);
  return written === size ? memory : "wrong size";
}
function inflateZlib(packed, size) {
  const memory = inflateInside(packed, size);
  return typeof memory === "string" ? memory : bytesAt(memory.at(0), size).slice();
}
function inflatePredicted(packed, size) {
  const memory = inflateInside(packed, size);
  if (typeof memory === "string") return memory;
  kernel().unpredict(memory.at(0), size, memory.at(1));
  return bytesAt(memory.at(1), size);
}
function unpredictBytes(bytes) {
  const memory = new CallMemory(bytes.length, bytes.length);
  kernel().unpredict(memory.put(0, bytes), bytes.length, memory.at(1));
  return bytesAt(memory.at(1), bytes.length);
}
function deflateZlib(raw, predicted) {
  const size = raw.length;
  const memory = new CallMemory(size, size, size + (size >> 8));
  const from = memory.put(0, raw);
  if (predicted) kernel().predict(from, size, memory.at(1));
  const written = kernel().deflate(memory.at(predicted ? 1 : 0), size, memory.at(2));
  return bytesAt(memory.at(2), written).slice();
}
function unhuffmanWords(packed, count) {
  const memory = new CallMemory(2 * count, packed.length);
  const fault = kernel().unhuffman(memory.put(1, packed), packed.length, memory.at(0), count);
  return fault ? faultOf(fault) : new Uint16Array(kernel().memory.buffer, memory.at(0), count).slice();
}
var TYPES = ["uint", "half", "float"];
var TABLE_BYTES = 2 * 65536;
var [CHUNK_INTS, CHANNEL_INTS] = [3, 6];
function unpackSamples(coding, packed, layout, size) {
  const { y, lines, channels } = layout;
  const table2 = channels.find((channel) => channel.table)?.table?.();
  const ints = CHUNK_INTS + CHANNEL_INTS * channels.length;
  const memory = new CallMemory(
    4 * ints,
    table2 ? TABLE_BYTES : 0,
    Math.max(size, 4 * lines),
    size,
    packed.length
  );
  const [chunk, tableAt, work, to] = [memory.at(0), memory.at(1), memory.at(2), memory.at(3)];
  const from = memory.put(4, packed);
  const record2 = new Int32Array(kernel().memory.buffer, chunk, ints);
  record2.set([y, lines, channels.length]);
  channels.forEach((channel, index) => {
    const { type, ySampling, columns, rows } = channel;
    record2.set(
      [TYPES.indexOf(type), ySampling, columns, rows, channel.table ? tableAt : 0, 0],
      CHUNK_INTS + CHANNEL_INTS * index
    );
  });
  if (table2) new Uint16Array(kernel().memory.buffer, tableAt, table2.length).set(table2);
  const fault = run(coding, { from, length: packed.length, chunk, work, to, size });
  return fault ? faultOf(fault) : bytesAt(to, size);
}
function run(coding, {
  from,
  length,
  chunk,
  work,
  to,
  size
}) {
  switch (coding) {
    case "piz":
      return kernel().unpackPiz(from, length, chunk, work, to, size);
    case "b44":
      return kernel().unpackB44(from, length, chunk, work, to);
    case "pxr24":
      return kernel().unpackPxr24(from, length, chunk, work, to);
  }
}

// src/core/image/limits.ts
var MAX_PIXELS = 512 * 1024 * 1024;

// src/core/formats/exr/spec.ts
var MAGIC = 20000630;
var FLAG_TILED = 512;
var FLAG_LONG_NAMES = 1024;
var FLAG_DEEP = 2048;
var FLAG_MULTI_PART = 4096;
var KNOWN_FLAGS = FLAG_TILED | FLAG_LONG_NAMES | FLAG_DEEP | FLAG_MULTI_PART;
var COMPRESSIONS = [
  { name: "none", lines: 1 },
  { name: "rle", lines: 1 },
  { name: "zips", lines: 1 },
  { name: "zip", lines: 16 },
  { name: "piz", lines: 32 },
  { name: "pxr24", lines: 16 },
  { name: "b44", lines: 32 },
  { name: "b44a", lines: 32 },
  { name: "dwaa", lines: 32 },
  { name: "dwab", lines: 256 }
];
var PIXEL_TYPES = ["uint", "half", "float"];
var BYTES_PER_SAMPLE = { uint: 4, half: 2, float: 4 };
var SHORT_NAME = 31;
var LONG_NAME = 255;
var MAX_DECODED_BYTES = 8 * 1024 ** 3;

// src/core/formats/exr/layout.ts
function samplesAlong(sampling, first, count) {
  return Math.floor((first + count - 1) / sampling) - Math.ceil(first / sampling) + 1;
}
function gridOf({ x, y, width, lines }, { xSampling, ySampling }) {
  return { columns: samplesAlong(xSampling, x, width), rows: samplesAlong(ySampling, y, lines) };
}
function chunkBytes(shape) {
  return shape.channels.reduce((sum, channel) => {
    const { columns, rows } = gridOf(shape, channel);
    return sum + columns * rows * BYTES_PER_SAMPLE[channel.type];
  }, 0);
}
function forEachRun(shape, each) {
  const { channels, y, lines } = shape;
  const columns = channels.map((channel) => gridOf(shape, channel).columns);
  const next = channels.map(() => 0);
  let at = 0;
  for (let line = y; line < y + lines; line++) {
    for (const [index, { type, ySampling }] of channels.entries()) {
      if (line % ySampling !== 0) continue;
      each(index, next[index]++, at, columns[index]);
      at += columns[index] * BYTES_PER_SAMPLE[type];
    }
  }
}

// src/core/formats/exr/codec.ts
var FAULTS2 = {
  damaged: "the compressed data are damaged",
  "too long": "the compressed data do not have the promised size",
  "wrong size": "the compressed data do not have the promised size",
  checksum: "the checksum of the compressed data does not match",
  "ends early": "the coded data end too early",
  "bad codes": "the table of codes is damaged",
  "unknown code": "a code of the compressed data is unknown",
  "long run": "a run of the coded data is too long",
  "bad values": "the table of values lies outside its range",
  "bad extent": "the coded data do not lie in the chunk"
};
function orFault(result) {
  if (typeof result === "string") throw new FileError(FAULTS2[result]);
  return result;
}
function inflateExactly(packed, size) {
  return orFault(inflateZlib(packed, size));
}
function unzipChunk(packed, size) {
  return orFault(inflatePredicted(packed, size));
}
function zipChunk(raw) {
  return deflateZlib(raw, true);
}
function unhuffman(packed, count) {
  return orFault(unhuffmanWords(packed, count));
}
var exponentials;
function exponentialTable() {
  exponentials ??= Uint16Array.from(
    halvesToFloats(Uint16Array.from({ length: 65536 }, (_, half2) => half2)),
    (value) => Number.isFinite(value) && value > 0 ? floatToHalf(8 * Math.log(value)) : 0
  );
  return exponentials;
}
function unpackCoded(coding, packed, shape) {
  const channels = shape.channels.map((channel) => ({
    type: channel.type,
    ySampling: channel.ySampling,
    ...gridOf(shape, channel),
    table: channel.linear ? exponentialTable : void 0
  }));
  const { y, lines } = shape;
  return orFault(unpackSamples(coding, packed, { y, lines, channels }, chunkBytes(shape)));
}
function unrleChunk(packed, size) {
  return unpredictBytes(expandRuns(packed, size));
}
function expandRuns(packed, size) {
  const out = new Uint8Array(size);
  let from = 0;
  let to = 0;
  while (from < packed.length) {
    const count = packed[from++] << 24 >> 24;
    const length = count < 0 ? -count : count + 1;
    if (to + length > size) throw new FileError("a run of the run-length data is too long");
    if (count < 0) {
      if (from + length > packed.length) throw new FileError("the run-length data end too early");
      out.set(packed.subarray(from, from + length), to);
      from += length;
    } else {
      if (from >= packed.length) throw new FileError("the run-length data end too early");
      out.fill(packed[from++], to, to + length);
    }
    to += length;
  }
  if (to !== size) throw new FileError("the run-length data do not have the promised size");
  return out;
}

// src/core/formats/exr/chunks.ts
function placeOf({ x, y, width, lines }, tiled = false) {
  return tiled ? `the tile at ${x} ${y} to ${x + width - 1} ${y + lines - 1}` : `lines ${y} to ${y + lines - 1}`;
}

// src/core/formats/exr/dct.ts
var ZIGZAG = Array.from({ length: 64 }, (_, at) => at).sort((a, b) => {
  const [da, db] = [(a >> 3) + (a & 7), (b >> 3) + (b & 7)];
  if (da !== db) return da - db;
  return da % 2 === 0 ? (b >> 3) - (a >> 3) : (a >> 3) - (b >> 3);
});
var PI = 3.14159;
var half = (angle) => Math.fround(0.5 * Math.cos(angle * PI / 16));
var [A, B, C, D, E, F, G] = [4, 1, 2, 3, 5, 6, 7].map(half);
function inverseDct8x8(block2) {
  for (let row = 0; row < 64; row += 8) inverse8(block2, row, 1);
  for (let column = 0; column < 8; column++) inverse8(block2, column, 8);
}
function inverse8(v, at, step2) {
  const x = (i) => v[at + i * step2];
  const [x0, x1, x2, x3, x4, x5, x6, x7] = [x(0), x(1), x(2), x(3), x(4), x(5), x(6), x(7)];
  const even0 = A * (x0 + x4);
  const even1 = A * (x0 - x4);
  const cross0 = C * x2 + F * x6;
  const cross1 = F * x2 - C * x6;
  const [s0, s1, s2, s3] = [even0 + cross0, even1 + cross1, even1 - cross1, even0 - cross0];
  const d0 = B * x1 + D * x3 + E * x5 + G * x7;
  const d1 = D * x1 - G * x3 - B * x5 - E * x7;
  const d2 = E * x1 - B * x3 + G * x5 + D * x7;
  const d3 = G * x1 - E * x3 + D * x5 - B * x7;
  v[at] = s0 + d0;
  v[at + step2] = s1 + d1;
  v[at + 2 * step2] = s2 + d2;
  v[at + 3 * step2] = s3 + d3;
  v[at + 4 * step2] = s3 - d3;
  v[at + 5 * step2] = s2 - d2;
  v[at + 6 * step2] = s1 - d1;
  v[at + 7 * step2] = s0 - d0;
}

// src/core/formats/exr/dwa.ts
var HEADER = [
  "version",
  "unknownSize",
  "unknownPacked",
  "acPacked",
  "dcPacked",
  "rlePacked",
  "rleSize",
  "rleRaw",
  "acCount",
  "dcCount",
  "acCoding"
];
var SCHEMES = ["plain", "dct", "rle"];
var LEGACY_RULES = [
  ...[
    ["r", "red"],
    ["g", "grn", "green"],
    ["b", "blu", "blue"]
  ].flatMap((suffixes, primary) => suffixes.flatMap((suffix) => dctRule(suffix, primary))),
  ...["y", "by", "ry"].flatMap((suffix) => dctRule(suffix, -1)),
  ...["uint", "half", "float"].map((type) => ({
    suffix: "a",
    type,
    scheme: "rle",
    primary: -1,
    anyCase: true
  }))
];
function dctRule(suffix, primary) {
  return ["half", "float"].map((type) => ({ suffix, type, scheme: "dct", primary, anyCase: true }));
}
var damaged = () => new FileError("the DWA data are damaged");
function unpackDwa(packed, shape) {
  if (packed.length < HEADER.length * 8) throw damaged();
  const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength);
  const header = Object.fromEntries(
    HEADER.map((name, index) => [name, Number(view.getBigUint64(index * 8, true))])
  );
  let at = HEADER.length * 8;
  if (header.version > 2) throw new FileError(`DWA version ${header.version} is unknown`);
  let rules = LEGACY_RULES;
  if (header.version === 2) {
    if (at + 2 > packed.length) throw damaged();
    const size = view.getUint16(at, true);
    if (size < 2 || at + size > packed.length) throw damaged();
    rules = readRules(packed.subarray(at + 2, at + size));
    at += size;
  }
  const take = (size) => {
    if (at + size > packed.length) throw damaged();
    at += size;
    return packed.subarray(at - size, at);
  };
  const plan = planChannels(shape, rules);
  const bytesOf = (scheme) => plan.reduce((sum, { bytes, scheme: own }) => own === scheme ? sum + bytes : sum, 0);
  const blocks = plan.reduce((sum, entry) => sum + (entry.scheme === "dct" ? entry.blocks : 0), 0);
  if (header.unknownSize !== bytesOf("plain") || header.rleRaw !== bytesOf("rle")) throw damaged();
  if (header.dcCount !== blocks || header.acCount > blocks * 64 || header.rleSize > header.rleRaw * 2 + 64)
    throw damaged();
  const plainPacked = take(header.unknownPacked);
  const acPacked = take(header.acPacked);
  const dcPacked = take(header.dcPacked);
  const rlePacked = take(header.rlePacked);
  const plain = header.unknownSize ? inflateExactly(plainPacked, header.unknownSize) : new Uint8Array();
  const rle = header.rleRaw ? expandRuns(inflateExactly(rlePacked, header.rleSize), header.rleRaw) : new Uint8Array();
  const dc = blocks ? words(unzipChunk(dcPacked, blocks * 2)) : new Uint16Array();
  const ac = unpackAc(acPacked, header);
  const out = new Uint8Array(chunkBytes(shape));
  const starts = shape.channels.map(() => []);
  forEachRun(shape, (index, row, byte) => starts[index][row] = byte);
  const transforms = new Transforms(ac, dc, out, starts);
  for (const set of colourSets(plan)) transforms.decode(set);
  const from = { plain: 0, rle: 0 };
  for (const entry of plan) {
    if (entry.scheme === "dct") {
      if (!entry.coupled) transforms.decode([entry]);
      continue;
    }
    const { columns, rows, size, bytes, scheme } = entry;
    const data = scheme === "plain" ? plain : rle;
    for (let row = 0; row < rows; row++) {
      const to = starts[entry.index][row];
      if (scheme === "plain") {
        const line = from.plain + row * columns * size;
        out.set(data.subarray(line, line + columns * size), to);
        continue;
      }
      for (let byte = 0; byte < size; byte++) {
        const plane = from.rle + (byte * rows + row) * columns;
        for (let x = 0; x < columns; x++) out[to + x * size + byte] = data[plane + x];
      }
    }
    from[scheme] += bytes;
  }
  return out;
}
function readRules(bytes) {
  const rules = [];
  for (let at = 0; at < bytes.length; ) {
    const end = bytes.indexOf(0, at);
    if (end < 0 || end + 2 >= bytes.length) throw damaged();
    const value = bytes[end + 1];
    const scheme = SCHEMES[value >> 2 & 3];
    const type = ["uint", "half", "float"][bytes[end + 2]];
    const primary = (value >> 4) - 1;
    if (!scheme || !type || primary > 2) throw damaged();
    rules.push({
      suffix: new TextDecoder().decode(bytes.subarray(at, end)),
      type,
      scheme,
      primary,
      anyCase: (value & 1) === 1
    });
    at = end + 3;
  }
  return rules;
}
function planChannels(shape, rules) {
  return shape.channels.map((channel, index) => {
    const dot2 = channel.name.lastIndexOf(".");
    const suffix = channel.name.slice(dot2 + 1);
    const rule = rules.findLast(
      ({ suffix: wanted, type, anyCase }) => type === channel.type && (anyCase ? wanted.toLowerCase() === suffix.toLowerCase() : wanted === suffix)
    );
    const { columns, rows } = gridOf(shape, channel);
    const size = BYTES_PER_SAMPLE[channel.type];
    return {
      index,
      channel,
      layer: dot2 < 0 ? "" : channel.name.slice(0, dot2),
      scheme: rule?.scheme ?? "plain",
      primary: rule?.primary ?? -1,
      columns,
      rows,
      size,
      bytes: columns * rows * size,
      blocks: Math.ceil(columns / 8) * Math.ceil(rows / 8),
      coupled: false
    };
  });
}
function colourSets(plan) {
  const layers = [...new Set(plan.map(({ layer }) => layer))].sort((a, b) => a < b ? -1 : 1);
  return layers.flatMap((layer) => {
    const set = [0, 1, 2].map(
      (primary) => plan.findLast((entry) => entry.layer === layer && entry.scheme === "dct" && entry.primary === primary)
    );
    const [first] = set;
    if (!set.every((entry) => entry?.columns === first?.columns && entry?.rows === first?.rows) || !first)
      return [];
    for (const entry of set) entry.coupled = true;
    return [set];
  });
}
function words(bytes) {
  return new Uint16Array(bytes.slice().buffer);
}
function unpackAc(packed, { acCount, acCoding }) {
  if (acCount === 0) return new Uint16Array();
  if (acCoding === 0) return unhuffman(packed, acCount);
  if (acCoding === 1) return words(inflateExactly(packed, acCount * 2));
  throw new FileError(`DWA coding ${acCoding} is unknown`);
}
var END_OF_BLOCK = 65280;
var linear;
function linearTable() {
  const base = Math.fround(Math.E) ** 2.2;
  linear ??= Uint16Array.from(
    halvesToFloats(Uint16Array.from({ length: 65536 }, (_, half2) => half2)),
    (value) => {
      if (!Number.isFinite(value)) return 0;
      const size = Math.abs(value);
      const light = size <= 1 ? size ** 2.2 : base ** (size - 1);
      return floatToHalf(value < 0 ? -light : light);
    }
  );
  return linear;
}
var Transforms = class {
  constructor(ac, dc, out, starts) {
    this.ac = ac;
    this.dc = dc;
    this.starts = starts;
    this.view = new DataView(out.buffer);
  }
  ac;
  dc;
  starts;
  acAt = 0;
  dcAt = 0;
  view;
  block = [new Float32Array(64), new Float32Array(64), new Float32Array(64)];
  zigzag = new Uint16Array(64);
  decode(set) {
    const { columns, rows, blocks } = set[0];
    const first = this.dcAt;
    let number = 0;
    for (let y = 0; y < rows; y += 8) {
      for (let x = 0; x < columns; x += 8, number++) {
        for (let c = 0; c < set.length; c++)
          this.readBlock(this.dc[first + c * blocks + number], this.block[c]);
        if (set.length === 3) toRgb(this.block);
        for (const [c, entry] of set.entries()) this.storeBlock(this.block[c], entry, x, y);
      }
    }
    this.dcAt = first + blocks * set.length;
  }
  /** Undoes the run lengths of zeros, the zigzag and the transform of one block. */
  readBlock(dc, block2) {
    const { zigzag, ac } = this;
    zigzag.fill(0);
    zigzag[0] = dc;
    let last = 0;
    for (let at = 1; at < 64; ) {
      if (this.acAt >= ac.length) throw damaged();
      const word = ac[this.acAt++];
      if (word === END_OF_BLOCK) break;
      if (word >> 8 === 255) {
        at += word & 255;
      } else {
        last = at;
        zigzag[at++] = word;
      }
    }
    const floats2 = halvesToFloats(last === 0 ? zigzag.subarray(0, 1) : zigzag);
    if (last === 0) {
      block2.fill(floats2[0] / 8);
      return;
    }
    for (let i = 0; i < 64; i++) block2[ZIGZAG[i]] = floats2[i];
    inverseDct8x8(block2);
  }
  storeBlock(block2, { index, channel, columns, rows }, x, y) {
    const table2 = linearTable();
    const starts = this.starts[index];
    const [width, height] = [Math.min(8, columns - x), Math.min(8, rows - y)];
    for (let v = 0; v < height; v++) {
      for (let u = 0; u < width; u++) {
        const half2 = floatToHalf(block2[v * 8 + u]);
        const value = channel.linear ? half2 : table2[half2];
        if (channel.type === "half") this.view.setUint16(starts[y + v] + (x + u) * 2, value, true);
        else this.view.setFloat32(starts[y + v] + (x + u) * 4, halfValue(value), true);
      }
    }
  }
};
var one2 = new Uint16Array(1);
function halfValue(half2) {
  one2[0] = half2;
  return halvesToFloats(one2)[0];
}
function toRgb([a, b, c]) {
  for (let i = 0; i < 64; i++) {
    const [y, cb, cr] = [a[i], b[i], c[i]];
    a[i] = y + 1.5747 * cr;
    b[i] = y - 0.1873 * cb - 0.4682 * cr;
    c[i] = y + 1.8556 * cb;
  }
}

// src/core/formats/exr/unpack.ts
function unpackChunk(packed, chunk) {
  const size = chunkBytes(chunk);
  if (packed.length === size) return packed;
  const where = placeOf(chunk, chunk.tiled);
  const todo = "Copy or render it again";
  if (chunk.compression === "none")
    throw new FileError(`a chunk has ${packed.length} bytes, not ${size}`, { where, todo });
  try {
    return unpack(packed, chunk, size);
  } catch (error) {
    if (error instanceof FileError) throw new FileError(error.message, { where, todo });
    throw error;
  }
}
function unpack(packed, chunk, size) {
  switch (chunk.compression) {
    case "rle":
      return unrleChunk(packed, size);
    case "piz":
    case "pxr24":
      return unpackCoded(chunk.compression, packed, chunk);
    case "b44":
    case "b44a":
      return unpackCoded("b44", packed, chunk);
    case "dwaa":
    case "dwab":
      return unpackDwa(packed, chunk);
    default:
      return unzipChunk(packed, size);
  }
}

// src/core/formats/exr/jobs.ts
function unpackChunks({ buffer, chunks }) {
  for (const { chunk, from, size, to } of chunks)
    new Uint8Array(buffer, to, chunkBytes(chunk)).set(unpackChunk(new Uint8Array(buffer, from, size), chunk));
}
function packChunks({ buffer, chunks, sizes }) {
  const packedSizes = new Int32Array(buffer, sizes, chunks.length);
  for (const [index, { from, size }] of chunks.entries()) {
    const raw = new Uint8Array(buffer, from, size);
    const packed = zipChunk(raw);
    if (packed.length < size) raw.set(packed);
    packedSizes[index] = Math.min(packed.length, size);
  }
}
var GROUP_BYTES = 2 ** 20;
var LEAST_PARALLEL_BYTES = 2 ** 22;
function groupsOf(items, bytesOf) {
  const groups = [];
  for (const item of items) {
    const last = groups.at(-1);
    const bytes = bytesOf(item);
    if (last && last.bytes < GROUP_BYTES) {
      last.items.push(item);
      last.bytes += bytes;
    } else groups.push({ items: [item], bytes });
  }
  return groups;
}
async function runGroups(groups, bufferBytes, {
  runner,
  fill,
  empty,
  progress
}) {
  const total = groups.reduce((sum, { bytes }) => sum + bytes, 0);
  const threads = total < LEAST_PARALLEL_BYTES ? void 0 : runner;
  const count = threads ? Math.min(groups.length, threads.threads + 1) : 1;
  const buffers = Array.from({ length: count }, () => allocateShared(bufferBytes));
  const handle = async (group, index) => {
    const buffer = buffers[index];
    const task = fill(group, buffer);
    if (threads) await threads.run([task]);
    else if (task.job === "unpackChunks") unpackChunks(task.input);
    else packChunks(task.input);
    empty(group, buffer, task);
  };
  await withScratchBuffers([...buffers.keys()], groups, handle, { progress });
}

// src/core/formats/exr/write.ts
var Bytes = class _Bytes {
  parts = [];
  length = 0;
  push(bytes) {
    this.parts.push(bytes);
    this.length += bytes.length;
  }
  text(text) {
    this.push(new TextEncoder().encode(`${text}\0`));
  }
  i32(...values) {
    this.push(new Uint8Array(Int32Array.from(values).buffer));
  }
  f32(...values) {
    this.push(new Uint8Array(Float32Array.from(values).buffer));
  }
  attribute(name, type, fill) {
    const value = new _Bytes();
    fill(value);
    this.text(name);
    this.text(type);
    this.i32(value.length);
    this.push(value.join());
  }
  join() {
    const out = new Uint8Array(this.length);
    let at = 0;
    for (const part of this.parts) {
      out.set(part, at);
      at += part.length;
    }
    return out;
  }
};
function byBytes(a, b) {
  const [x, y] = [new TextEncoder().encode(a), new TextEncoder().encode(b)];
  for (let i = 0; i < Math.min(x.length, y.length); i++) if (x[i] !== y[i]) return x[i] - y[i];
  return x.length - y.length;
}
async function writeExr(picture, options = {}) {
  const compression = options.compression ?? "zip";
  const channels = [...picture.channels.values()].sort((a, b) => byBytes(a.name, b.name));
  if (channels.length === 0) throw new FileError("a picture without channels cannot be written");
  const out = new Bytes();
  writeHeader(out, picture, channels, compression);
  const blocks = blocksOf(picture, channels, compression);
  const packed = await packBlocks(blocks, picture, channels, options);
  const offsets = new BigUint64Array(blocks.length);
  out.push(new Uint8Array(offsets.buffer));
  packed.forEach((bytes, index) => {
    offsets[index] = BigInt(out.length);
    out.i32(picture.dataWindow.yMin + blocks[index].first, bytes.length);
    out.push(bytes);
  });
  return out.join();
}
function writeHeader(out, { dataWindow, displayWindow, attributes }, channels, compression) {
  const names = [...attributes.keys(), ...channels.map(({ name }) => name)];
  const longest = Math.max(...names.map((name) => new TextEncoder().encode(name).length));
  if (longest > LONG_NAME)
    throw new FileError(`a channel's name has ${longest} bytes; OpenEXR allows ${LONG_NAME}`);
  out.i32(MAGIC, 2 | (longest > SHORT_NAME ? FLAG_LONG_NAMES : 0));
  out.attribute("channels", "chlist", (value) => {
    for (const channel of channels) {
      value.text(channel.name);
      value.i32(PIXEL_TYPES.indexOf(channel.type), 0, 1, 1);
    }
    value.push(new Uint8Array(1));
  });
  const code = COMPRESSIONS.findIndex(({ name }) => name === compression);
  out.attribute("compression", "compression", (value) => value.push(Uint8Array.of(code)));
  for (const [name, { xMin, yMin, xMax, yMax }] of [
    ["dataWindow", dataWindow],
    ["displayWindow", displayWindow]
  ])
    out.attribute(name, "box2i", (value) => value.i32(xMin, yMin, xMax, yMax));
  out.attribute("lineOrder", "lineOrder", (value) => value.push(new Uint8Array(1)));
  for (const [name, type, values] of [
    ["pixelAspectRatio", "float", [1]],
    ["screenWindowCenter", "v2f", [0, 0]],
    ["screenWindowWidth", "float", [1]]
  ]) {
    if (!attributes.has(name)) out.attribute(name, type, (value) => value.f32(...values));
  }
  for (const [name, { type, bytes }] of attributes) out.attribute(name, type, (value) => value.push(bytes));
  out.push(new Uint8Array(1));
}
function blocksOf({ width, height }, channels, compression) {
  const { lines } = COMPRESSIONS.find(({ name }) => name === compression);
  const lineBytes = width * channels.reduce((sum, { type }) => sum + BYTES_PER_SAMPLE[type], 0);
  return Array.from({ length: Math.ceil(height / lines) }, (_, index) => {
    const first = index * lines;
    const count = Math.min(lines, height - first);
    return { first, lines: count, bytes: count * lineBytes };
  });
}
async function packBlocks(blocks, { width }, channels, { compression = "zip", progress, runner }) {
  if (compression === "none")
    return blocks.map((block2) => {
      const raw = new Uint8Array(block2.bytes);
      copyLines(channels, width, block2, raw);
      return raw;
    });
  const packed = [];
  const groups = groupsOf([...blocks.entries()], ([, { bytes }]) => bytes);
  const largest = Math.max(...groups.map(({ bytes, items }) => 4 * items.length + bytes));
  await runGroups(groups, largest, {
    runner,
    progress,
    fill: ({ items }, buffer) => {
      let from = 4 * items.length;
      const chunks = items.map(([, block2]) => {
        copyLines(channels, width, block2, new Uint8Array(buffer, from, block2.bytes));
        from += block2.bytes;
        return { from: from - block2.bytes, size: block2.bytes };
      });
      return { job: "packChunks", input: { buffer, sizes: 0, chunks } };
    },
    empty: ({ items }, buffer, { input }) => {
      const sizes = new Int32Array(buffer, input.sizes, items.length);
      for (const [k, [index]] of items.entries())
        packed[index] = new Uint8Array(buffer, input.chunks[k].from, sizes[k]).slice();
    }
  });
  return packed;
}
function copyLines(channels, width, { first, lines }, to) {
  const sources = channels.map(
    ({ samples }) => new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength)
  );
  let at = 0;
  for (let y = first; y < first + lines; y++) {
    for (const [index, { type }] of channels.entries()) {
      const length = width * BYTES_PER_SAMPLE[type];
      to.set(sources[index].subarray(y * length, (y + 1) * length), at);
      at += length;
    }
  }
}

// src/core/image/picture.ts
function emptyPicture(width, height) {
  const window = { xMin: 0, yMin: 0, xMax: width - 1, yMax: height - 1 };
  return {
    width,
    height,
    dataWindow: window,
    displayWindow: { ...window },
    channels: /* @__PURE__ */ new Map(),
    range: "scene",
    compression: "none",
    attributes: /* @__PURE__ */ new Map(),
    warnings: []
  };
}
function addChannel(picture, name, type, samples) {
  if (samples.length !== picture.width * picture.height) {
    throw new RangeError(
      `channel ${name} has ${samples.length} samples for ${picture.width}x${picture.height}`
    );
  }
  picture.channels.set(name, { name, type, samples });
}

// src/core/image/float-attribute.ts
var floatAttribute = (type, ...values) => ({
  type,
  bytes: new Uint8Array(Float32Array.from(values).buffer)
});

// demo/camera-attributes.ts
function cameraAttributes({ focalLength, sensorWidth }, { width, height }) {
  return /* @__PURE__ */ new Map([
    ["pinholeFocalLength", floatAttribute("float", focalLength)],
    ["sensorOverallDimensions", floatAttribute("v2f", sensorWidth, sensorWidth * height / width)]
  ]);
}

// demo/smooth.ts
var SPLINE = [1 / 16, 1 / 4, 3 / 8, 1 / 4, 1 / 16];
function smoothWithin(planes, guides, width, levels) {
  let current = [...planes];
  for (let level = 0; level < levels; level++) current = spread(current, guides, width, 1 << level);
  return current;
}
function spread(planes, guides, width, stride) {
  const height = planes[0].length / width;
  const out = planes.map((plane) => new Float32Array(plane.length));
  const sums = new Float64Array(planes.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      let total = 0;
      sums.fill(0);
      for (let j = -2; j <= 2; j++)
        for (let i = -2; i <= 2; i++) {
          const [u, v] = [x + i * stride, y + j * stride];
          if (u < 0 || v < 0 || u >= width || v >= height) continue;
          const from = v * width + u;
          let apart = 0;
          for (const { plane, spread: own } of guides) apart += ((plane[from] - plane[at]) / own) ** 2;
          const weight = SPLINE[i + 2] * SPLINE[j + 2] * Math.exp(-apart);
          total += weight;
          planes.forEach((plane, k) => sums[k] += weight * plane[from]);
        }
      out.forEach((plane, k) => plane[at] = sums[k] / total);
    }
  return out;
}

// demo/scene/cut-stone.ts
var FACETS = 8;
var [RADIUS, TABLE_RADIUS, CROWN, PAVILION] = [0.03, 0.017, 0.0105, 0.0255];
function ring(radius, y, turn = 0) {
  return Array.from({ length: FACETS }, (_, k) => {
    const angle = (k + turn) / FACETS * 2 * Math.PI;
    return [radius * Math.cos(angle), y, radius * Math.sin(angle)];
  });
}
function placed([x, y, z], size, tilt, at) {
  const [c, s] = [size * Math.cos(tilt), size * Math.sin(tilt)];
  return [size * x + at[0], c * y - s * z + at[1], s * y + c * z + at[2]];
}
function cutStone(size, tilt, at) {
  const points = [
    [0, CROWN, 0],
    ...ring(TABLE_RADIUS, CROWN),
    ...ring(RADIUS, 0, 0.5),
    [0, -PAVILION, 0]
  ];
  const [table2, girdle, point] = [1, 1 + FACETS, 1 + 2 * FACETS];
  const triangles = [];
  for (let k = 0; k < FACETS; k++) {
    const next = (k + 1) % FACETS;
    triangles.push(
      [0, table2 + next, table2 + k],
      [table2 + k, table2 + next, girdle + k],
      [table2 + next, girdle + next, girdle + k],
      [girdle + k, girdle + next, point]
    );
  }
  const vertices = points.map((corner) => placed(corner, size, tilt, at));
  return { kind: "mesh", vertices, triangles, closed: true };
}

// demo/scene/interior.ts
var materials = {
  plaster: { kind: "coated", albedo: [0.62, 0.58, 0.52], roughness: 0.8 },
  ceiling: { kind: "coated", albedo: [0.7, 0.69, 0.66], roughness: 0.9 },
  floor: { kind: "coated", albedo: [0.3, 0.19, 0.11], roughness: 0.3, texture: "planks" },
  frame: { kind: "coated", albedo: [0.66, 0.65, 0.61], roughness: 0.35 },
  sill: { kind: "coated", albedo: [0.36, 0.23, 0.13], roughness: 0.3, texture: "wood" },
  linen: { kind: "coated", albedo: [0.6, 0.55, 0.45], roughness: 0.9 },
  clay: { kind: "coated", albedo: [0.42, 0.17, 0.09], roughness: 0.6 },
  glaze: { kind: "coated", albedo: [0.07, 0.16, 0.28], roughness: 0.12 },
  leaf: { kind: "coated", albedo: [0.06, 0.19, 0.05], roughness: 0.3 },
  paper: { kind: "coated", albedo: [0.55, 0.5, 0.42], roughness: 0.7 },
  cloth: { kind: "coated", albedo: [0.45, 0.1, 0.06], roughness: 0.8 },
  ink: { kind: "coated", albedo: [0.06, 0.12, 0.16], roughness: 0.6 },
  brass: { kind: "metal", reflectance: [0.85, 0.62, 0.3], roughness: 0.16 },
  walnut: { kind: "coated", albedo: [0.16, 0.09, 0.05], roughness: 0.3, texture: "wood" },
  stone: { kind: "glass", index: 1.8, tint: [0.6, 0.75, 0.7] },
  lawn: { kind: "coated", albedo: [0.13, 0.22, 0.06], roughness: 0.8 },
  path: { kind: "coated", albedo: [0.5, 0.46, 0.38], roughness: 0.8 },
  crown: { kind: "coated", albedo: [0.06, 0.14, 0.03], roughness: 0.7 },
  tuft: { kind: "coated", albedo: [0.1, 0.2, 0.04], roughness: 0.7 },
  trunk: { kind: "coated", albedo: [0.16, 0.11, 0.07], roughness: 0.8 },
  hill: { kind: "coated", albedo: [0.13, 0.2, 0.17], roughness: 0.9 },
  chalk: { kind: "coated", albedo: [0.72, 0.7, 0.65], roughness: 0.7 },
  tile: { kind: "coated", albedo: [0.4, 0.13, 0.07], roughness: 0.6 },
  sun: { kind: "emitter", radiance: [13e4, 117e3, 98e3] }
};
var box = (group, material, centre, half2, yaw = 0) => ({
  group,
  material,
  shape: { kind: "box", centre, half: half2, yaw }
});
var ball = (group, material, centre, radius) => ({
  group,
  material,
  shape: { kind: "sphere", centre, radius }
});
var rod = (group, material, from, to, radius) => ({
  group,
  material,
  shape: { kind: "cylinder", from, to, radius }
});
var WINDOW = { left: -0.72, right: 0.98, low: 0.8, high: 2.15 };
var WALL = { near: 4, far: 4.28 };
var SIDE = { near: 0.6, far: 2.9, low: 0.7, high: 2.3 };
var ROOM = { left: -2, right: 2.2, back: -1.6, height: 2.6 };
var block = (group, material, low, high) => box(
  group,
  material,
  [(low[0] + high[0]) / 2, (low[1] + high[1]) / 2, (low[2] + high[2]) / 2],
  [(high[0] - low[0]) / 2, (high[1] - low[1]) / 2, (high[2] - low[2]) / 2]
);
function walls() {
  const { left, right, back, height } = ROOM;
  const [near, far] = [WALL.near, WALL.far];
  const out = 0.2;
  return [
    block("walls", "floor", [left - out, -0.2, back - out], [right + out, 0, far]),
    block("walls", "ceiling", [left - out, height, back - out], [right + out, height + 0.2, far]),
    block("walls", "plaster", [left - out, 0, back - out], [left, height, SIDE.near]),
    block("walls", "plaster", [left - out, 0, SIDE.far], [left, height, far]),
    block("walls", "plaster", [left - out, 0, SIDE.near], [left, SIDE.low, SIDE.far]),
    block("walls", "plaster", [left - out, SIDE.high, SIDE.near], [left, height, SIDE.far]),
    block("walls", "plaster", [right, 0, back - out], [right + out, height, far]),
    block("walls", "plaster", [left, 0, back - out], [right, height, back]),
    block("walls", "plaster", [left, 0, near], [WINDOW.left, height, far]),
    block("walls", "plaster", [WINDOW.right, 0, near], [right, height, far]),
    block("walls", "plaster", [WINDOW.left, 0, near], [WINDOW.right, WINDOW.low, far]),
    block("walls", "plaster", [WINDOW.left, WINDOW.high, near], [WINDOW.right, height, far])
  ];
}
function windowFrame() {
  const { left, right, low, high } = WINDOW;
  const [z0, z1, w] = [4.1, 4.16, 0.05];
  const middle = (left + right) / 2;
  const upper = low + 0.68 * (high - low);
  return [
    block("frame", "frame", [left, low, z0], [left + w, high, z1]),
    block("frame", "frame", [right - w, low, z0], [right, high, z1]),
    block("frame", "frame", [left, low, z0], [right, low + w, z1]),
    block("frame", "frame", [left, high - w, z0], [right, high, z1]),
    block("frame", "frame", [middle - w / 2, low, z0 - 0.01], [middle + w / 2, high, z1]),
    block("frame", "frame", [left, upper - w / 2, z0 + 0.01], [right, upper + w / 2, z1 - 0.01]),
    rod(
      "frame",
      "brass",
      [middle + 5e-3, low + 0.42, z0 - 0.035],
      [middle + 5e-3, low + 0.55, z0 - 0.035],
      8e-3
    ),
    block("frame", "sill", [left - 0.12, low - 0.04, 3.68], [right + 0.12, low, 4.1])
  ];
}
function curtain(from, to, phase) {
  const [columns, rows] = [72, 6];
  const vertices = [];
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i <= columns; i++) {
      const [s, t] = [i / columns, j / rows];
      const fold = 0.035 * Math.sin(2 * Math.PI * (6 * s + phase)) + 0.012 * Math.sin(2 * Math.PI * (13 * s + 2 * phase));
      const x = from + (to - from) * (s + 0.04 * (1 - t) * Math.sin(7 * s + phase));
      vertices.push([x, 0.03 + 2.32 * t, 3.86 + fold * (1.15 - 0.35 * t)]);
    }
  const triangles = [];
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const at = j * (columns + 1) + i;
      triangles.push([at, at + 1, at + columns + 1], [at + 1, at + columns + 2, at + columns + 1]);
    }
  return { group: "curtains", material: "linen", shape: { kind: "mesh", vertices, triangles } };
}
function vessel(at, outline) {
  const sides = 40;
  const vertices = outline.flatMap(
    ([radius, height]) => Array.from({ length: sides }, (_, k) => {
      const angle = 2 * Math.PI * k / sides;
      return [at[0] + radius * Math.cos(angle), at[1] + height, at[2] + radius * Math.sin(angle)];
    })
  );
  const triangles = [];
  for (let j = 0; j + 1 < outline.length; j++)
    for (let k = 0; k < sides; k++) {
      const [a, b] = [j * sides + k, j * sides + (k + 1) % sides];
      triangles.push([a, a + sides, b], [b, a + sides, b + sides]);
    }
  return { kind: "mesh", vertices, triangles };
}
function leaf(group, root, heading, length, lift, width) {
  const steps = 8;
  const [c, s] = [Math.cos(heading), Math.sin(heading)];
  const vertices = [];
  for (let k = 0; k <= steps; k++) {
    const t = k / steps;
    const out = length * t * (1 - 0.15 * t);
    const up = lift * Math.sin(Math.PI * 0.62 * t) - 0.35 * length * t * t * t;
    const half2 = width * Math.sqrt(Math.sin(Math.PI * Math.min(1, 0.06 + 0.94 * t)) + 1e-9) * 0.5;
    const [x, y, z] = [root[0] + out * c, root[1] + up, root[2] + out * s];
    vertices.push(
      [x - half2 * s, y + 0.15 * half2, z + half2 * c],
      [x, y, z],
      [x + half2 * s, y + 0.15 * half2, z - half2 * c]
    );
  }
  const triangles = [];
  for (let k = 0; k < steps; k++)
    for (let side = 0; side < 2; side++) {
      const at = 3 * k + side;
      triangles.push([at, at + 1, at + 3], [at + 1, at + 4, at + 3]);
    }
  return { group, material: "leaf", shape: { kind: "mesh", vertices, triangles } };
}
var GOLDEN = Math.PI * (3 - Math.sqrt(5));
function potted(group, at, size, leaves) {
  return [
    {
      group,
      material: "clay",
      shape: vessel(at, [
        [0.05 * size, 0],
        [0.07 * size, 0.12 * size],
        [0.078 * size, 0.12 * size],
        [0.078 * size, 0.14 * size],
        [0.066 * size, 0.14 * size],
        [0.062 * size, 0.11 * size],
        [0, 0.11 * size]
      ])
    },
    ...Array.from(
      { length: leaves },
      (_, k) => leaf(
        group,
        [at[0], at[1] + 0.11 * size, at[2]],
        k * GOLDEN,
        (0.16 + 0.1 * (k * 0.618 % 1)) * size,
        (0.1 + 0.14 * (k * 0.755 % 1)) * size,
        0.05 * size
      )
    )
  ];
}
function onTheSill() {
  const y = WINDOW.low;
  return [
    { group: "stone", material: "stone", shape: cutStone(3, -0.705, [0.24, y + 0.0196 * 3, 3.8]) },
    ...potted("pots", [-0.48, y, 3.9], 1.25, 15),
    {
      group: "pots",
      material: "glaze",
      shape: vessel(
        [0.66, y, 3.86],
        [
          [0.035, 0],
          [0.075, 0.05],
          [0.085, 0.11],
          [0.05, 0.19],
          [0.034, 0.23],
          [0.044, 0.26],
          [0.036, 0.25],
          [0.03, 0.22]
        ]
      )
    },
    box("books", "ink", [-0.15, y + 0.014, 3.85], [0.1, 0.014, 0.07], 12),
    box("books", "paper", [-0.155, y + 0.041, 3.85], [0.094, 0.013, 0.066], -6),
    box("books", "cloth", [-0.15, y + 0.066, 3.85], [0.09, 0.012, 0.062], 21),
    ball("books", "brass", [-0.13, y + 0.105, 3.84], 0.027)
  ];
}
function inTheRoom() {
  return [
    rod("curtains", "brass", [-1.35, 2.38, 3.86], [1.6, 2.38, 3.86], 0.014),
    curtain(-1.22, -0.74, 0.1),
    curtain(1, 1.5, 0.55),
    // A picture on the wall beside the window, and one that is only its edge.
    box("picture", "walnut", [1.78, 1.42, 3.985], [0.2, 0.27, 0.015]),
    box("picture", "paper", [1.78, 1.42, 3.975], [0.17, 0.24, 0.01]),
    box("picture", "ink", [1.78, 1.38, 3.968], [0.11, 0.14, 8e-3]),
    // The chair's back, and a plant near the camera.
    box("chair", "walnut", [0.62, 0.96, 2.35], [0.2, 0.02, 0.012], -24),
    ...[-1, 0, 1].map(
      (k) => rod(
        "chair",
        "walnut",
        [0.62 + 0.13 * k, 0.4, 2.35 + 0.058 * k],
        [0.62 + 0.13 * k, 0.95, 2.35 + 0.058 * k],
        0.011
      )
    ),
    ...[-1, 1].map(
      (k) => rod(
        "chair",
        "walnut",
        [0.62 + 0.185 * k, 0, 2.35 + 0.082 * k],
        [0.62 + 0.185 * k, 0.99, 2.35 + 0.082 * k],
        0.018
      )
    ),
    ...potted("plant", [-0.5, 0.62, 2], 2.1, 17),
    block("plant", "walnut", [-0.68, 0.58, 1.82], [-0.32, 0.62, 2.18])
  ];
}
function tree(x, z, size, seed) {
  const ground = -3;
  const tufts = Array.from({ length: 260 }, (_, k) => {
    const up = 1 - 2 * (k + 0.5) / 260;
    const out = Math.sqrt(1 - up * up);
    const angle = GOLDEN * k + seed;
    const reach = size * (0.74 + 0.3 * ((k * 0.618 + seed * 0.37) % 1));
    const centre = [
      x + reach * out * Math.cos(angle),
      ground + 1.9 * size + 0.85 * reach * up,
      z + reach * out * Math.sin(angle)
    ];
    return ball(
      "garden",
      k % 3 ? "crown" : "tuft",
      centre,
      size * (0.08 + 0.09 * ((k * 0.755 + seed * 0.7) % 1))
    );
  });
  return [
    rod("garden", "trunk", [x, ground, z], [x, ground + 1.6 * size, z], 0.07 * size),
    ball("garden", "crown", [x, ground + 1.9 * size, z], 0.74 * size),
    ...tufts
  ];
}
function house(x, z, width, height, yaw) {
  const ground = -3;
  return [
    box("houses", "chalk", [x, ground + height / 2, z], [width / 2, height / 2, width / 3], yaw),
    box("houses", "tile", [x, ground + height + 0.3, z], [width / 2 + 0.3, 0.3, width / 3 + 0.3], yaw),
    box("houses", "tile", [x, ground + height + 0.9, z], [width / 2 - 0.5, 0.35, width / 3 - 0.8], yaw),
    ...[-0.28, 0, 0.28].map(
      (k) => box(
        "houses",
        "ink",
        [
          x + k * width * Math.cos(yaw * Math.PI / 180) - width / 3 * Math.sin(yaw * Math.PI / 180),
          ground + 0.6 * height,
          z - k * width * Math.sin(yaw * Math.PI / 180) - width / 3 * Math.cos(yaw * Math.PI / 180)
        ],
        [0.4, 0.6, 0.06],
        yaw
      )
    )
  ];
}
function outside() {
  return [
    box("garden", "lawn", [0, -3.5, 200], [400, 0.5, 195]),
    box("garden", "path", [2.4, -2.99, 30], [1.1, 0.02, 24], 4),
    ...tree(-4.2, 17, 2, 1),
    ...tree(7.5, 24, 2.4, 2),
    ...tree(-9, 40, 3, 3),
    ...tree(16, 52, 3.4, 4),
    ...tree(-1.5, 70, 3, 5),
    ...house(6, 64, 9, 5, 18),
    ...house(-14, 76, 11, 6, -12),
    ball("hills", "hill", [-120, -168, 420], 200),
    ball("hills", "hill", [140, -260, 520], 300),
    ball("hills", "hill", [20, -240, 640], 262)
  ];
}
var sun = () => ball("sun", "sun", [520, 700, 640], 9.4);
function interiorScene() {
  return {
    camera: { position: [-0.05, 1.32, 1.35], target: [0.13, 1.17, 4], focalLength: 42, sensorWidth: 36 },
    sky: {
      zenith: [1.1, 2, 4.2],
      horizon: [4.4, 4.8, 5.2],
      glow: [5, 4.1, 2.9],
      glowHeading: 39,
      glowWidth: 28,
      distance: 1e4
    },
    portals: [
      {
        corner: [WINDOW.left, WINDOW.low, WALL.near],
        u: [0, WINDOW.high - WINDOW.low, 0],
        v: [WINDOW.right - WINDOW.left, 0, 0]
      },
      {
        corner: [ROOM.left, SIDE.low, SIDE.near],
        u: [0, SIDE.high - SIDE.low, 0],
        v: [0, 0, SIDE.far - SIDE.near]
      }
    ],
    materials,
    items: [...walls(), ...windowFrame(), ...onTheSill(), ...inTheRoom(), ...outside(), sun()],
    groups: [
      "walls",
      "frame",
      "stone",
      "pots",
      "books",
      "curtains",
      "picture",
      "chair",
      "plant",
      "garden",
      "houses",
      "hills",
      "sun"
    ]
  };
}
var INTERIOR = {
  view: ["garden", "houses", "hills", "sun"],
  room: ["walls", "frame", "stone", "pots", "books", "curtains", "picture", "chair", "plant"]
};

// demo/scene/quay.ts
var SODIUM = [1, 0.54, 0.17];
var COOL = [0.8, 0.92, 1];
var scaled = (colour, by) => [colour[0] * by, colour[1] * by, colour[2] * by];
var materials2 = {
  planks: { kind: "coated", albedo: [0.3, 0.225, 0.165], roughness: 0.3, texture: "planks" },
  pile: { kind: "coated", albedo: [0.2, 0.15, 0.11], roughness: 0.35, texture: "wood" },
  water: { kind: "coated", albedo: [3e-3, 7e-3, 9e-3], roughness: 0.05, index: 1.33, texture: "waves" },
  iron: { kind: "coated", albedo: [0.045, 0.05, 0.055], roughness: 0.22 },
  paint: { kind: "coated", albedo: [0.55, 0.55, 0.52], roughness: 0.2 },
  rust: { kind: "coated", albedo: [0.32, 0.09, 0.05], roughness: 0.3 },
  steel: { kind: "metal", reflectance: [0.62, 0.63, 0.65], roughness: 0.2 },
  rope: { kind: "coated", albedo: [0.42, 0.33, 0.22], roughness: 0.5 },
  land: { kind: "coated", albedo: [0.03, 0.035, 0.03], roughness: 0.6 },
  rubber: { kind: "coated", albedo: [0.4, 0.16, 0.06], roughness: 0.3 },
  stone: { kind: "coated", albedo: [0.5, 0.48, 0.45], roughness: 0.5 },
  hullBlue: { kind: "coated", albedo: [0.05, 0.13, 0.24], roughness: 0.16, texture: "hull" },
  hullRed: { kind: "coated", albedo: [0.3, 0.05, 0.04], roughness: 0.16, texture: "hull" },
  floatGreen: { kind: "glass", index: 1.5, tint: [2e-3, 0.5, 0.12] },
  floatAmber: { kind: "glass", index: 1.5, tint: [0.75, 0.16, 4e-4] },
  floatBlue: { kind: "glass", index: 1.5, tint: [4e-3, 0.12, 0.75] },
  floatClear: { kind: "glass", index: 1.5, tint: [0.5, 0.8, 0.75] },
  bollardLamp: { kind: "emitter", radiance: scaled(SODIUM, 620) },
  shoulderLamp: { kind: "emitter", radiance: scaled(SODIUM, 230) },
  pierLamp: { kind: "emitter", radiance: scaled(COOL, 2600) },
  mastLamp: { kind: "emitter", radiance: scaled([1, 0.93, 0.8], 1500) },
  portLamp: { kind: "emitter", radiance: [900, 26, 14] },
  starboardLamp: { kind: "emitter", radiance: [10, 620, 150] },
  lighthouse: { kind: "emitter", radiance: scaled([1, 0.94, 0.78], 5200) },
  cabinWindow: { kind: "emitter", radiance: scaled([1, 0.68, 0.34], 7) },
  ferryWindow: { kind: "emitter", radiance: scaled([1, 0.8, 0.5], 6) },
  harbourSodium: { kind: "emitter", radiance: scaled(SODIUM, 900) },
  harbourWhite: { kind: "emitter", radiance: scaled([1, 0.9, 0.75], 900) },
  harbourCool: { kind: "emitter", radiance: scaled(COOL, 800) },
  harbourRed: { kind: "emitter", radiance: [700, 20, 10] }
};
var GROUPS = ["quay", "lamps", "railing", "rope", "floats", "boats", "shore", "water"];
var Builder = class {
  items = [];
  sphere(group, material, centre, radius) {
    this.items.push({ group, material, shape: { kind: "sphere", centre, radius } });
  }
  cylinder(group, material, from, to, radius) {
    this.items.push({ group, material, shape: { kind: "cylinder", from, to, radius } });
  }
  box(group, material, centre, half2, yaw = 0) {
    this.items.push({ group, material, shape: { kind: "box", centre, half: half2, yaw } });
  }
};
function quay(b) {
  b.box("water", "water", [0, -1.35, 480], [900, 0.1, 520]);
  b.box("quay", "planks", [-0.25, -0.06, 22], [3.15, 0.06, 25]);
  b.box("quay", "pile", [-3.32, -0.01, 22], [0.09, 0.1, 25]);
  b.box("quay", "pile", [2.8, -0.01, 22], [0.09, 0.1, 25]);
  for (let z = 2; z <= 46; z += 4) {
    b.cylinder("quay", "pile", [-3.5, -2, z + 1.6], [-3.5, 0.42, z + 1.6], 0.16);
    b.cylinder("quay", "pile", [3, -2, z + 0.6], [3, 0.18, z + 0.6], 0.16);
  }
  b.box("quay", "pile", [0.4, 1.35, 43.5], [1.9, 1.35, 1.6]);
  b.box("quay", "iron", [0.4, 2.8, 43.5], [2.25, 0.1, 1.95]);
  for (const x of [-0.75, 0.4, 1.55]) b.box("quay", "cabinWindow", [x, 1.55, 41.88], [0.42, 0.42, 0.02]);
}
function lamps(b) {
  for (let z = 4.6; z < 41; z += 4.4) {
    const x = -2.72;
    b.cylinder("lamps", "iron", [x, 0, z], [x, 0.74, z], 0.1);
    b.cylinder("lamps", "iron", [x, 0, z], [x, 0.05, z], 0.17);
    b.sphere("lamps", "bollardLamp", [x, 0.86, z], 0.085);
    b.cylinder("lamps", "iron", [x, 0.955, z], [x, 1, z], 0.16);
    for (let k = 0; k < 4; k++) {
      const a = k * Math.PI / 2 + 0.6;
      const [c, s] = [0.12 * Math.cos(a), 0.12 * Math.sin(a)];
      b.cylinder("lamps", "iron", [x + c, 0.72, z + s], [x + c, 0.96, z + s], 9e-3);
    }
  }
}
function railing(b) {
  const x = 2.45;
  for (const y of [0.14, 1.18]) b.cylinder("railing", "steel", [x, y, 2.2], [x, y, 41], 0.024);
  for (let z = 2.2; z <= 41; z += 1.94) b.cylinder("railing", "steel", [x, 0, z], [x, 1.24, z], 0.034);
  for (let z = 2.2; z <= 41; z += 0.1617) b.cylinder("railing", "steel", [x, 0.14, z], [x, 1.18, z], 9e-3);
  b.box("quay", "planks", [5.1, -0.75, 12.4], [1.9, 0.07, 2.8]);
  b.cylinder("lamps", "iron", [3.72, -0.7, 11.2], [3.72, 0.6, 11.2], 0.045);
  b.sphere("lamps", "pierLamp", [3.72, 0.7, 11.2], 0.1);
  b.cylinder("lamps", "iron", [3.72, 0.81, 11.2], [3.72, 0.85, 11.2], 0.2);
  for (const [px, pz] of [
    [3.5, 9.9],
    [6.7, 9.9],
    [3.5, 15],
    [6.7, 15]
  ])
    b.cylinder("quay", "pile", [px, -2, pz], [px, -0.2, pz], 0.13);
  b.sphere("lamps", "shoulderLamp", [-2.2, 2.9, -0.6], 0.09);
}
function ropeBetween(b, from, to, sag, segments, radius) {
  const points = Array.from({ length: segments + 1 }, (_, k) => {
    const t = k / segments;
    const drop = sag * 4 * t * (1 - t);
    return [
      from[0] + (to[0] - from[0]) * t,
      from[1] + (to[1] - from[1]) * t - drop,
      from[2] + (to[2] - from[2]) * t
    ];
  });
  for (let k = 0; k < segments; k++) {
    b.cylinder("rope", "rope", points[k], points[k + 1], radius);
    b.sphere("rope", "rope", points[k + 1], radius);
  }
  return points;
}
function floats(b) {
  b.cylinder("rope", "pile", [-1.3, -0.2, 2.35], [-1.3, 2.34, 2.35], 0.1);
  const points = ropeBetween(b, [-1.3, 2.16, 2.3], [2.3, 2.62, 1.9], 0.36, 48, 0.014);
  const hung = [
    [7, "floatAmber", 0.105, 0.1],
    [14, "floatGreen", 0.135, 0.2],
    [22, "floatClear", 0.085, 0.06],
    [27, "floatBlue", 0.12, 0.16]
  ];
  for (const [index, material, radius, cord] of hung) {
    const [x, y, z] = points[index];
    const centre = [x, y - cord - radius, z];
    b.cylinder("rope", "rope", [x, y, z], [x, centre[1] + radius - 4e-3, z], 7e-3);
    b.cylinder("rope", "rope", [x, centre[1] + radius - 0.012, z], [x, centre[1] + radius + 0.03, z], 0.02);
    b.sphere("floats", material, centre, radius);
  }
}
function coil(b, x, z, radius, layers) {
  const thickness = 0.017;
  for (let layer = 0; layer < layers; layer++) {
    const y = thickness + layer * thickness * 1.75;
    for (const ring2 of [radius, radius - thickness * 2.1]) {
      const wobble = 0.012 * Math.sin(layer * 2.4 + ring2 * 40);
      const at = (k) => {
        const angle = k / 26 * 2 * Math.PI + layer;
        const r = ring2 + wobble * Math.sin(2 * angle);
        return [x + r * Math.cos(angle), y, z + r * Math.sin(angle)];
      };
      for (let k = 0; k < 26; k++) b.cylinder("rope", "rope", at(k), at(k + 1), thickness);
    }
  }
}
function tackle(b) {
  for (const z of [6.6, 13.2, 22, 33]) {
    b.cylinder("quay", "iron", [-2.2, 0, z], [-2.2, 0.36, z], 0.1);
    b.cylinder("quay", "iron", [-2.2, 0.36, z], [-2.2, 0.46, z], 0.15);
  }
  ropeBetween(b, [-2.25, 0.3, 13.2], [-5.5, -0.15, 15.4], 0.35, 20, 0.022);
  ropeBetween(b, [-2.25, 0.3, 22], [-5.7, -0.1, 20.6], 0.25, 16, 0.022);
  coil(b, -0.55, 6.1, 0.34, 6);
  ropeBetween(b, [-0.86, 0.17, 6.2], [-2.12, 0.34, 6.62], 0.13, 20, 0.017);
  b.sphere("floats", "floatAmber", [0.3, 0.13, 6.5], 0.13);
  b.sphere("floats", "floatGreen", [0.66, 0.1, 6.15], 0.1);
  for (const [x, y, z, yaw] of [
    [1.62, 0.15, 8.3, 8],
    [1.66, 0.46, 8.34, -4],
    [1.5, 0.15, 9.15, 20]
  ]) {
    crate(b, [x, y, z], yaw);
  }
  b.box("quay", "pile", [1.75, 0.44, 15.4], [0.2, 0.03, 0.8]);
  for (const z of [14.8, 16]) b.box("quay", "iron", [1.75, 0.21, z], [0.16, 0.21, 0.03]);
}
function crate(b, [x, y, z], yaw) {
  const [c, s] = [Math.cos(yaw * Math.PI / 180), Math.sin(yaw * Math.PI / 180)];
  const at = (u, v, w) => [x + c * u + s * w, y + v, z - s * u + c * w];
  for (const v of [-0.11, -5e-3, 0.1]) {
    for (const w of [-0.26, 0.26]) b.box("quay", "pile", at(0, v, w), [0.4, 0.042, 0.012], yaw);
    for (const u of [-0.39, 0.39]) b.box("quay", "pile", at(u, v, 0), [0.012, 0.042, 0.25], yaw);
  }
  for (const w of [-0.18, 0, 0.18]) b.box("quay", "pile", at(0, -0.145, w), [0.39, 0.01, 0.08], yaw);
}
function hull(b, material, at, yaw, length, beam, freeboard) {
  const [c, s] = [Math.cos(yaw * Math.PI / 180), Math.sin(yaw * Math.PI / 180)];
  const place = ([x, y, z]) => [at[0] + c * x + s * z, at[1] + y, at[2] - s * x + c * z];
  const rings = 16;
  const ribs = 7;
  const vertices = [];
  const triangles = [];
  for (let i = 0; i <= rings; i++) {
    const t = i / rings;
    const width = beam / 2 * (t < 0.35 ? 0.82 + 0.5 * t : Math.sqrt(Math.max(0, 1 - ((t - 0.35) / 0.65) ** 2.6)));
    const sheer = freeboard * (1 + 0.55 * t * t);
    for (let j = 0; j <= ribs; j++) {
      const v = j / ribs;
      const flare = 0.55 + 0.45 * Math.sin(v * Math.PI / 2);
      const overhang = 0.1 * length * Math.max(0, t - 0.7) * v;
      vertices.push(place([-width * flare, -0.25 + (sheer + 0.25) * v, (t - 0.5) * length + overhang]));
      vertices.push(place([width * flare, -0.25 + (sheer + 0.25) * v, (t - 0.5) * length + overhang]));
    }
  }
  const ring2 = (ribs + 1) * 2;
  const quad = (p, q, r, u) => void triangles.push([p, q, r], [q, u, r]);
  for (let i = 0; i < rings; i++) {
    for (let j = 0; j < ribs; j++) {
      const p = i * ring2 + j * 2;
      quad(p, p + ring2, p + 2, p + ring2 + 2);
      quad(p + 1, p + ring2 + 1, p + 3, p + ring2 + 3);
    }
    const deck = i * ring2 + ribs * 2;
    quad(deck, deck + ring2, deck + 1, deck + ring2 + 1);
  }
  for (let j = 0; j < ribs; j++) quad(j * 2, j * 2 + 1, j * 2 + 2, j * 2 + 3);
  b.items.push({ group: "boats", material, shape: { kind: "mesh", vertices, triangles } });
  return place;
}
function fishingBoat(b, paint, at, yaw, length) {
  const place = hull(b, paint, at, yaw, length, length * 0.32, 0.85);
  const deck = 0.95;
  const box2 = (material, centre, half2) => b.box("boats", material, place(centre), half2, yaw);
  const rod2 = (material, from, to, radius) => b.cylinder("boats", material, place(from), place(to), radius);
  box2("paint", [0, deck + 0.28, -0.04 * length], [0.95, 0.34, 0.22 * length]);
  const house2 = -0.15 * length;
  const depth = 0.095 * length;
  box2("paint", [0, deck + 0.98, house2], [0.78, 0.4, depth]);
  box2("rust", [0, deck + 1.86, house2 + 0.08], [0.98, 0.05, depth + 0.22]);
  for (const x of [-0.74, -0.26, 0.26, 0.74])
    box2("paint", [x, deck + 1.6, house2 + depth - 0.04], [0.045, 0.24, 0.04]);
  for (const x of [-0.5, 0, 0.5])
    box2("cabinWindow", [x, deck + 1.6, house2 + depth - 0.04], [0.2, 0.2, 0.012]);
  for (const side of [-1, 1]) {
    for (const z of [-1, -0.34, 0.34, 1])
      box2("paint", [side * 0.745, deck + 1.6, house2 + z * (depth - 0.04)], [0.035, 0.24, 0.045]);
    for (const z of [-0.67, 0, 0.67])
      box2("cabinWindow", [side * 0.745, deck + 1.6, house2 + z * (depth - 0.04)], [0.012, 0.2, 0.2]);
    for (let t = -0.44; t <= 0.18; t += 0.088) {
      rod2(
        "steel",
        [side * 0.145 * length, deck - 0.1, t * length],
        [side * 0.145 * length, deck + 0.62, t * length],
        0.014
      );
    }
    rod2(
      "steel",
      [side * 0.145 * length, deck + 0.6, -0.45 * length],
      [side * 0.145 * length, deck + 0.6, 0.2 * length],
      0.016
    );
    for (const t of [-0.28, -0.02, 0.2])
      b.sphere("boats", "rubber", place([side * 0.178 * length, 0.72, t * length]), 0.2);
  }
  rod2("pile", [0, deck, 0.1 * length], [0, deck + 4.6, 0.08 * length], 0.06);
  rod2("pile", [0, deck + 3.9, 0.085 * length], [0, deck + 1.7, 0.42 * length], 0.03);
  rod2("iron", [0, deck + 4.5, 0.08 * length], [0, deck + 1.9, -0.3 * length], 0.012);
  rod2("iron", [0, deck + 4.5, 0.08 * length], [0, deck + 0.5, 0.46 * length], 0.01);
  box2("rust", [0.5, deck + 0.75, 0.05 * length], [0.26, 0.16, 0.2]);
  b.sphere("boats", "mastLamp", place([0, deck + 4.72, 0.08 * length]), 0.055);
  b.sphere("boats", "portLamp", place([-0.95, deck + 2.02, house2 + depth]), 0.065);
  b.sphere("boats", "starboardLamp", place([0.95, deck + 2.02, house2 + depth]), 0.065);
}
function ferry(b) {
  const at = [-30, -1.25, 92];
  const yaw = 72;
  const place = hull(b, "hullBlue", at, yaw, 46, 11, 2.6);
  b.box("boats", "paint", place([0, 4.4, -2]), [5, 1.7, 16], yaw);
  b.box("boats", "paint", place([0, 7.3, -3]), [4.4, 1.3, 12], yaw);
  b.box("boats", "paint", place([0, 9.5, 5]), [3.8, 1, 3], yaw);
  b.cylinder("boats", "rust", place([0, 8.4, -9]), place([0, 12.2, -9.6]), 1.1);
  for (let k = 0; k < 15; k++) {
    for (const side of [-1, 1]) {
      if (k % 5 !== 3)
        b.box("boats", "ferryWindow", place([side * 5.02, 4.6, -16.5 + k * 2]), [0.04, 0.42, 0.62], yaw);
      if (k < 11 && k % 4 !== 2)
        b.box("boats", "ferryWindow", place([side * 4.42, 7.5, -13.5 + k * 2]), [0.04, 0.34, 0.6], yaw);
    }
  }
  b.cylinder("boats", "iron", place([0, 10.4, 5]), place([0, 15, 5]), 0.12);
  b.sphere("boats", "mastLamp", place([0, 15.2, 5]), 0.2);
  b.sphere("boats", "portLamp", place([-4.6, 9.8, 7]), 0.12);
  b.sphere("boats", "starboardLamp", place([4.6, 9.8, 7]), 0.12);
}
function shore(b) {
  b.sphere("shore", "land", [-240, -640, 760], 690);
  b.sphere("shore", "land", [260, -930, 900], 975);
  b.sphere("shore", "land", [40, -1290, 1e3], 1310);
  const tower = [58, 0, 430];
  b.box("shore", "land", [62, -1.5, 436], [26, 3.2, 16]);
  b.cylinder("shore", "stone", [tower[0], 0, tower[2]], [tower[0], 25, tower[2]], 2.6);
  b.cylinder("shore", "iron", [tower[0], 25, tower[2]], [tower[0], 25.6, tower[2]], 3.6);
  b.sphere("shore", "lighthouse", [tower[0], 27.6, tower[2] - 0.4], 1.25);
  b.cylinder("shore", "iron", [tower[0], 29.4, tower[2]], [tower[0], 30.4, tower[2]], 2.6);
  const kinds = [
    "harbourSodium",
    "harbourWhite",
    "harbourSodium",
    "harbourCool",
    "harbourWhite",
    "harbourSodium",
    "harbourRed"
  ];
  for (let k = 0; k < 34; k++) {
    const t = k * 0.6180339887 % 1;
    const u = k * 0.7548776662 % 1;
    const z = 300 + 130 * u;
    b.sphere(
      "shore",
      kinds[k % kinds.length],
      [(-0.62 + 1.02 * t) * z, 2.2 + 7 * (k * 0.5698402909 % 1), z],
      0.2 + 0.17 * u
    );
  }
}
function quayScene() {
  const builder = new Builder();
  quay(builder);
  lamps(builder);
  railing(builder);
  floats(builder);
  tackle(builder);
  fishingBoat(builder, "hullRed", [-6.6, -1.25, 17.5], 5, 9);
  fishingBoat(builder, "hullBlue", [-6.9, -1.25, 31], -4, 11);
  ferry(builder);
  shore(builder);
  return {
    camera: { position: [0.15, 1.62, 0], target: [-0.55, 1.36, 12], focalLength: 33, sensorWidth: 36 },
    sky: {
      zenith: [28e-4, 5e-3, 0.0125],
      horizon: [0.02, 0.03, 0.052],
      glow: [0.11, 0.06, 0.026],
      glowHeading: -14,
      glowWidth: 26,
      distance: 1e4
    },
    materials: materials2,
    items: builder.items,
    groups: GROUPS
  };
}

// demo/scene/stone.ts
var lamp = (centre, radius, material) => ({
  group: "lamps",
  material,
  shape: { kind: "sphere", centre, radius }
});
function chandelier() {
  return [
    [0.16, 0.26, 14],
    [0.3, 0.2, 18]
  ].flatMap(
    ([radius, height, count]) => Array.from({ length: count }, (_, k) => {
      const angle = (k + 0.3) / count * 2 * Math.PI;
      const centre = [radius * Math.cos(angle), height, radius * Math.sin(angle)];
      return lamp(centre, 4e-3, ["warm", "white", "cold"][k % 3]);
    })
  );
}
function stoneScene() {
  return {
    camera: { position: [0, 0.105, -0.19], target: [0, 0.022, 0], focalLength: 50, sensorWidth: 36 },
    sky: {
      zenith: [0.01, 0.012, 0.018],
      horizon: [0.05, 0.05, 0.06],
      glow: [0.12, 0.09, 0.06],
      glowHeading: 40,
      glowWidth: 30,
      distance: 1e4
    },
    materials: {
      stone: { kind: "glass", index: 1.9, tint: [0.9, 0.9, 0.9] },
      table: { kind: "coated", albedo: [0.03, 0.022, 0.018], roughness: 0.25 },
      card: { kind: "coated", albedo: [0.55, 0.54, 0.5], roughness: 0.8 },
      warm: { kind: "emitter", radiance: [90, 62, 34] },
      cold: { kind: "emitter", radiance: [50, 62, 80] },
      white: { kind: "emitter", radiance: [160, 155, 145] }
    },
    items: [
      {
        group: "table",
        material: "table",
        shape: { kind: "box", centre: [0, -0.05, 0.2], half: [0.8, 0.05, 0.8] }
      },
      {
        group: "table",
        material: "card",
        shape: { kind: "box", centre: [0.12, 0.045, 0.16], half: [0.05, 0.045, 3e-3], yaw: 18 }
      },
      // Lying on its point and an edge.
      { group: "stone", material: "stone", shape: cutStone(1, -0.705, [0, 0.0196, 0]) },
      ...chandelier(),
      lamp([-0.16, 0.22, -0.02], 0.012, "white"),
      lamp([0.2, 0.25, 0.05], 0.01, "warm"),
      lamp([0.05, 0.3, -0.2], 0.014, "white"),
      lamp([-0.09, 0.05, 0.14], 6e-3, "warm"),
      lamp([-0.03, 0.06, 0.2], 5e-3, "cold"),
      lamp([0.06, 0.035, 0.18], 5e-3, "warm"),
      lamp([0.25, 0.1, -0.12], 0.012, "cold")
    ],
    groups: ["table", "stone", "lamps"]
  };
}

// demo/tracer/geometry.ts
var SPHERE = 0;
var CYLINDER = 1;
var BOX = 2;
var TRIANGLE = 3;
var STRIDE = 16;
var LEAF_SIZE = 3;
var EPSILON = 1e-4;
function newHit() {
  return { distance: Infinity, item: -1, nx: 0, ny: 0, nz: 0 };
}
var subtract = (a, b) => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
var cross = (a, b) => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0]
];
var axes = [0, 1, 2];
function primitivesOf(shape, item) {
  switch (shape.kind) {
    case "sphere": {
      const { centre, radius } = shape;
      return [
        {
          kind: SPHERE,
          item,
          data: [...centre, radius],
          min: centre.map((c) => c - radius),
          max: centre.map((c) => c + radius)
        }
      ];
    }
    case "cylinder": {
      const { from, to, radius } = shape;
      const along = subtract(to, from);
      const length = Math.hypot(...along);
      const axis = along.map((c) => c / length);
      const reach = axis.map((c) => radius * Math.sqrt(Math.max(0, 1 - c * c)));
      return [
        {
          kind: CYLINDER,
          item,
          data: [...from, ...axis, length, radius],
          min: axes.map((a) => Math.min(from[a], to[a]) - reach[a]),
          max: axes.map((a) => Math.max(from[a], to[a]) + reach[a])
        }
      ];
    }
    case "box": {
      const { centre, half: half2 } = shape;
      const yaw = (shape.yaw ?? 0) * Math.PI / 180;
      const [c, s] = [Math.cos(yaw), Math.sin(yaw)];
      const reach = [
        Math.abs(c) * half2[0] + Math.abs(s) * half2[2],
        half2[1],
        Math.abs(s) * half2[0] + Math.abs(c) * half2[2]
      ];
      return [
        {
          kind: BOX,
          item,
          data: [...centre, ...half2, c, s],
          min: axes.map((a) => centre[a] - reach[a]),
          max: axes.map((a) => centre[a] + reach[a])
        }
      ];
    }
    case "mesh":
      return shape.triangles.map((corners) => {
        const [p, q, r] = corners.map((corner) => shape.vertices[corner]);
        const normal = cross(subtract(q, p), subtract(r, p));
        const area = Math.hypot(...normal) || 1;
        return {
          kind: TRIANGLE,
          item,
          data: [
            ...p,
            ...subtract(q, p),
            ...subtract(r, p),
            ...normal.map((c) => c / area),
            shape.closed ? 1 : 0
          ],
          min: axes.map((a) => Math.min(p[a], q[a], r[a])),
          max: axes.map((a) => Math.max(p[a], q[a], r[a]))
        };
      });
  }
}
function buildGeometry(scene) {
  const primitives = scene.items.flatMap((item, index) => primitivesOf(item.shape, index));
  const nodes = [];
  const nodeInfo = [];
  const order = [];
  const bounds = (list) => [
    ...axes.map((a) => Math.min(...list.map((p) => p.min[a]))),
    ...axes.map((a) => Math.max(...list.map((p) => p.max[a])))
  ];
  const area = (b) => {
    const [x, y, z] = axes.map((a) => b[a + 3] - b[a]);
    return x * y + y * z + z * x;
  };
  const build = (list) => {
    const index = nodeInfo.length / 2;
    nodes.push(...bounds(list));
    nodeInfo.push(0, 0);
    if (list.length <= LEAF_SIZE) {
      nodeInfo[index * 2] = -order.length - 1;
      nodeInfo[index * 2 + 1] = list.length;
      order.push(...list.map((p) => primitives.indexOf(p)));
      return index;
    }
    let best = { cost: Infinity, axis: 0, at: list.length >> 1 };
    for (const axis of axes) {
      const sorted2 = sortAlong(list, axis);
      for (let k = 1; k < 12; k++) {
        const at = Math.round(k * list.length / 12);
        if (at < 1 || at >= list.length) continue;
        const cost = area(bounds(sorted2.slice(0, at))) * at + area(bounds(sorted2.slice(at))) * (list.length - at);
        if (cost < best.cost) best = { cost, axis, at };
      }
    }
    const sorted = sortAlong(list, best.axis);
    nodeInfo[index * 2] = build(sorted.slice(0, best.at));
    nodeInfo[index * 2 + 1] = build(sorted.slice(best.at));
    return index;
  };
  build(primitives);
  const data = new Float64Array(primitives.length * STRIDE);
  primitives.forEach((p, index) => data.set(p.data, index * STRIDE));
  return {
    kind: Uint8Array.from(primitives, (p) => p.kind),
    item: Uint16Array.from(primitives, (p) => p.item),
    data,
    nodes: Float64Array.from(nodes),
    nodeInfo: Int32Array.from(nodeInfo),
    order: Uint32Array.from(order)
  };
}
function sortAlong(list, axis) {
  return [...list].sort((a, b) => a.min[axis] + a.max[axis] - b.min[axis] - b.max[axis]);
}
var stack = new Int32Array(128);
function intersect(g, ox, oy, oz, dx, dy, dz, hit, reach = Infinity) {
  hit.distance = reach;
  hit.item = -1;
  const ix = 1 / dx;
  const iy = 1 / dy;
  const iz = 1 / dz;
  const { nodes, nodeInfo, order: members } = g;
  let top = 0;
  stack[top++] = 0;
  while (top > 0) {
    const node = stack[--top];
    const b = node * 6;
    const x0 = (nodes[b] - ox) * ix;
    const x1 = (nodes[b + 3] - ox) * ix;
    const y0 = (nodes[b + 1] - oy) * iy;
    const y1 = (nodes[b + 4] - oy) * iy;
    const z0 = (nodes[b + 2] - oz) * iz;
    const z1 = (nodes[b + 5] - oz) * iz;
    const near = Math.max(Math.min(x0, x1), Math.min(y0, y1), Math.min(z0, z1));
    const far = Math.min(Math.max(x0, x1), Math.max(y0, y1), Math.max(z0, z1));
    if (!(far >= Math.max(near, 0)) || near > hit.distance) continue;
    const first = nodeInfo[node * 2];
    if (first < 0) {
      const start = -first - 1;
      const end = start + nodeInfo[node * 2 + 1];
      for (let k = start; k < end; k++) intersectPrimitive(g, members[k], ox, oy, oz, dx, dy, dz, hit);
    } else {
      const second = nodeInfo[node * 2 + 1];
      const f = first * 6;
      const s = second * 6;
      const order = (nodes[f] + nodes[f + 3] - nodes[s] - nodes[s + 3]) * dx + (nodes[f + 1] + nodes[f + 4] - nodes[s + 1] - nodes[s + 4]) * dy + (nodes[f + 2] + nodes[f + 5] - nodes[s + 2] - nodes[s + 5]) * dz;
      stack[top++] = order < 0 ? second : first;
      stack[top++] = order < 0 ? first : second;
    }
  }
  return hit.item >= 0;
}
function intersectPrimitive(g, p, ox, oy, oz, dx, dy, dz, hit) {
  const d = g.data;
  const o = p * STRIDE;
  const rx = ox - d[o];
  const ry = oy - d[o + 1];
  const rz = oz - d[o + 2];
  switch (g.kind[p]) {
    case SPHERE: {
      const r = d[o + 3];
      const b = rx * dx + ry * dy + rz * dz;
      const [px, py, pz] = [rx - b * dx, ry - b * dy, rz - b * dz];
      const root = r * r - (px * px + py * py + pz * pz);
      if (root < 0) return;
      const s = Math.sqrt(root);
      const t = -b - s > EPSILON ? -b - s : -b + s;
      if (t > EPSILON && t < hit.distance) {
        record(hit, t, g.item[p], (rx + t * dx) / r, (ry + t * dy) / r, (rz + t * dz) / r);
      }
      return;
    }
    case CYLINDER: {
      const [ax, ay, az] = [d[o + 3], d[o + 4], d[o + 5]];
      const length = d[o + 6];
      const r = d[o + 7];
      const da = dx * ax + dy * ay + dz * az;
      const ra = rx * ax + ry * ay + rz * az;
      const [ex, ey, ez] = [dx - da * ax, dy - da * ay, dz - da * az];
      const [qx, qy, qz] = [rx - ra * ax, ry - ra * ay, rz - ra * az];
      const a = ex * ex + ey * ey + ez * ez;
      const b = qx * ex + qy * ey + qz * ez;
      const c = qx * qx + qy * qy + qz * qz - r * r;
      const root = b * b - a * c;
      if (root < 0 && a > 1e-12) return;
      if (a > 1e-12) {
        const s = Math.sqrt(root);
        for (let side = -1; side <= 1; side += 2) {
          const t = (-b + side * s) / a;
          const along = ra + t * da;
          if (t > EPSILON && t < hit.distance && along >= 0 && along <= length) {
            record(hit, t, g.item[p], (qx + t * ex) / r, (qy + t * ey) / r, (qz + t * ez) / r);
          }
        }
      }
      for (let end = 0; end <= 1; end++) {
        const t = (end * length - ra) / da;
        if (!(t > EPSILON && t < hit.distance)) continue;
        const [hx, hy, hz] = [qx + t * ex, qy + t * ey, qz + t * ez];
        if (hx * hx + hy * hy + hz * hz > r * r) continue;
        const sign = end === 0 ? -1 : 1;
        record(hit, t, g.item[p], sign * ax, sign * ay, sign * az);
      }
      return;
    }
    case BOX: {
      const [c, s] = [d[o + 6], d[o + 7]];
      const [lx, lz] = [c * rx - s * rz, s * rx + c * rz];
      const [mx, mz] = [c * dx - s * dz, s * dx + c * dz];
      let near = -Infinity;
      let far = Infinity;
      let axis = 0;
      let farAxis = 0;
      for (let k = 0; k < 3; k++) {
        const origin = k === 0 ? lx : k === 1 ? ry : lz;
        const inverse = 1 / (k === 0 ? mx : k === 1 ? dy : mz);
        const half2 = d[o + 3 + k];
        const t0 = (-half2 - origin) * inverse;
        const t1 = (half2 - origin) * inverse;
        const [lo, hi] = t0 < t1 ? [t0, t1] : [t1, t0];
        if (lo > near) [near, axis] = [lo, k];
        if (hi < far) [far, farAxis] = [hi, k];
      }
      if (!(near <= far)) return;
      const inside = near <= EPSILON;
      const t = inside ? far : near;
      if (!(t > EPSILON && t < hit.distance)) return;
      const face = inside ? farAxis : axis;
      const towards = face === 0 ? mx : face === 1 ? dy : mz;
      const sign = (towards > 0 ? -1 : 1) * (inside ? -1 : 1);
      if (face === 1) record(hit, t, g.item[p], 0, sign, 0);
      else if (face === 0) record(hit, t, g.item[p], sign * c, 0, -sign * s);
      else record(hit, t, g.item[p], sign * s, 0, sign * c);
      return;
    }
    case TRIANGLE: {
      const [ux, uy, uz] = [d[o + 3], d[o + 4], d[o + 5]];
      const [vx, vy, vz] = [d[o + 6], d[o + 7], d[o + 8]];
      const [hx, hy, hz] = [dy * vz - dz * vy, dz * vx - dx * vz, dx * vy - dy * vx];
      const det = ux * hx + uy * hy + uz * hz;
      if (Math.abs(det) < 1e-14) return;
      const inverse = 1 / det;
      const u = (rx * hx + ry * hy + rz * hz) * inverse;
      if (u < 0 || u > 1) return;
      const [kx, ky, kz] = [ry * uz - rz * uy, rz * ux - rx * uz, rx * uy - ry * ux];
      const v = (dx * kx + dy * ky + dz * kz) * inverse;
      if (v < 0 || u + v > 1) return;
      const t = (vx * kx + vy * ky + vz * kz) * inverse;
      if (!(t > EPSILON && t < hit.distance)) return;
      const facing = d[o + 12] === 0 && dx * d[o + 9] + dy * d[o + 10] + dz * d[o + 11] > 0 ? -1 : 1;
      record(hit, t, g.item[p], facing * d[o + 9], facing * d[o + 10], facing * d[o + 11]);
      return;
    }
  }
}
function record(hit, distance, item, nx, ny, nz) {
  hit.distance = distance;
  hit.item = item;
  hit.nx = nx;
  hit.ny = ny;
  hit.nz = nz;
}

// demo/tracer/sampler.ts
function hash32(value) {
  let x = value | 0;
  x = Math.imul(x ^ x >>> 16, 2146121005);
  x = Math.imul(x ^ x >>> 15, 2221713035);
  return (x ^ x >>> 16) >>> 0;
}
function reverseBits(value) {
  let x = value | 0;
  x = x >>> 1 & 1431655765 | (x & 1431655765) << 1;
  x = x >>> 2 & 858993459 | (x & 858993459) << 2;
  x = x >>> 4 & 252645135 | (x & 252645135) << 4;
  x = x >>> 8 & 16711935 | (x & 16711935) << 8;
  return (x >>> 16 | x << 16) >>> 0;
}
function scramble(value, seed) {
  let x = reverseBits(value);
  x = x + seed | 0;
  x ^= Math.imul(x, 1817228412);
  x ^= Math.imul(x, 3090095698);
  x ^= Math.imul(x, 3350193720);
  x ^= Math.imul(x, 2367878886);
  return reverseBits(x);
}
var SECOND_DIMENSION = (() => {
  const directions = new Uint32Array(32);
  let v = 2147483648;
  for (let bit = 0; bit < 32; bit++) {
    directions[bit] = v;
    v = (v ^ v >>> 1) >>> 0;
  }
  return directions;
})();
function sobolSecond(index) {
  let x = 0;
  for (let bit = 0, i = index; i !== 0; bit++, i >>>= 1) if (i & 1) x ^= SECOND_DIMENSION[bit];
  return x >>> 0;
}
var Sampler = class {
  u = 0;
  v = 0;
  seed = 0;
  index = 0;
  pair = 0;
  /** `run` tells independent renderings apart. */
  begin(pixel, index, run2 = 0) {
    this.seed = hash32(Math.imul(pixel, 2654435761) + 5369127 + run2 * 625341585);
    this.index = index;
    this.pair = 0;
  }
  draw() {
    const seed = hash32(this.seed + this.pair++ * 2246822507);
    const shuffled = scramble(this.index, seed);
    this.u = scramble(reverseBits(shuffled), hash32(seed ^ 1757159915)) / 4294967296;
    this.v = scramble(sobolSecond(shuffled), hash32(seed ^ 48610963)) / 4294967296;
  }
};

// demo/tracer/surface.ts
function lattice(x, y, z) {
  return hash32(Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) / 4294967296;
}
var fade = (t) => t * t * t * (t * (t * 6 - 15) + 10);
var mix = (a, b, t) => a + (b - a) * t;
var step = (low, high, x) => {
  const t = Math.min(1, Math.max(0, (x - low) / (high - low)));
  return t * t * (3 - 2 * t);
};
function noise(x, y, z) {
  const i = Math.floor(x);
  const j = Math.floor(y);
  const k = Math.floor(z);
  const u = fade(x - i);
  const v = fade(y - j);
  const w = fade(z - k);
  return mix(
    mix(
      mix(lattice(i, j, k), lattice(i + 1, j, k), u),
      mix(lattice(i, j + 1, k), lattice(i + 1, j + 1, k), u),
      v
    ),
    mix(
      mix(lattice(i, j, k + 1), lattice(i + 1, j, k + 1), u),
      mix(lattice(i, j + 1, k + 1), lattice(i + 1, j + 1, k + 1), u),
      v
    ),
    w
  );
}
function turbulence(x, y, z, octaves) {
  let sum = 0;
  let weight = 0.5;
  let scale = 1;
  for (let octave = 0; octave < octaves; octave++) {
    sum += weight * noise(x * scale + octave * 17.3, y * scale, z * scale - octave * 9.1);
    weight *= 0.5;
    scale *= 2.03;
  }
  return sum;
}
var PLANK_WIDTH = 0.19;
var PLANK_GAP = 0.011;
function plankHeight(x, z) {
  const board = Math.floor(z / PLANK_WIDTH);
  const across = z - board * PLANK_WIDTH;
  const edge = Math.min(across, PLANK_WIDTH - across);
  const warp = (lattice(board, 3, 7) - 0.5) * 3e-3;
  const grain = 16e-4 * turbulence(x * 2.2 + board * 5.7, 0, z * 55, 3);
  const dip = 6e-3 * turbulence(x * 0.7, 4, z * 0.7, 2);
  return warp + grain + dip - 8e-3 * (1 - step(0, PLANK_GAP, edge));
}
function waveHeight(x, z) {
  const swell = 0.05 * Math.sin(0.9 * x + 0.55 * z) + 0.04 * Math.sin(-0.5 * x + 1.3 * z + 1.7);
  return swell + 0.12 * turbulence(x * 0.9, 0, z * 1.3, 3);
}
function applyTexture(texture, x, y, z, gx, gy, gz, distance, roughness, out) {
  out.shade = 1;
  out.roughness = roughness;
  out.nx = gx;
  out.ny = gy;
  out.nz = gz;
  if (texture === "planks" && gy > 0.5) {
    const board = Math.floor(z / PLANK_WIDTH);
    const across = z - board * PLANK_WIDTH;
    const gap = step(0, PLANK_GAP, Math.min(across, PLANK_WIDTH - across));
    const wet = step(0.3, 0.6, turbulence(x * 0.55 + 3.1, 8, z * 0.42, 4));
    const grain = turbulence(x * 1.4 + board * 3.3, 1, z * 40, 3);
    out.shade = gap * (0.55 + 0.5 * lattice(board, 11, 2)) * (0.6 + 0.8 * grain) * mix(1.15, 0.55, wet);
    out.roughness = mix(0.36, 0.12, wet);
    const relief = mix(0.8, 0.35, wet) / (1 + distance * 0.3);
    bend(out, (px, pz) => plankHeight(px, pz), x, z, 4e-3, relief);
    out.roughness = Math.min(0.45, out.roughness + 9e-3 * distance);
  } else if (texture === "waves" && gy > 0.5) {
    const calm = 1 / (1 + distance * 0.09);
    bend(out, (px, pz) => waveHeight(px, pz), x, z, 0.02, calm);
    out.roughness = 0.08 + 0.14 * (1 - calm);
  } else if (texture === "wood") {
    const grain = turbulence(x * 24, y * 1.6, z * 24, 3);
    out.shade = 0.5 + grain;
    out.roughness = roughness * (0.7 + 0.6 * grain);
  } else if (texture === "hull") {
    const strake = Math.abs((y * 4.2 % 1 + 1) % 1 - 0.5);
    out.shade = 0.75 + 0.25 * step(0.02, 0.07, strake) - 0.25 * turbulence(x * 3, y * 6, z * 3, 3);
  }
}
function bend(out, height, x, z, reach, share) {
  const slopeX = (height(x + reach, z) - height(x - reach, z)) / (2 * reach) * share;
  const slopeZ = (height(x, z + reach) - height(x, z - reach)) / (2 * reach) * share;
  const length = Math.sqrt(slopeX * slopeX + 1 + slopeZ * slopeZ);
  out.nx = -slopeX / length;
  out.ny = 1 / length;
  out.nz = -slopeZ / length;
}

// demo/tracer/integrator.ts
var LIGHT_PASSES = ["diffuse", "specular", "transmission", "emission", "indirect"];
var DIFFUSE = 0;
var SPECULAR = 3;
var TRANSMISSION = 6;
var EMISSION = 9;
var INDIRECT = 12;
var NORMAL_AT = 15;
var MATTE_AT = 18;
var BOUNCE_LIMIT = 0.9;
var MAX_BOUNCES = 4;
var PLAIN_LAMP = 3;
var PLAIN_SHADOWED = 0.03;
var PLAIN_SOFTENING = 0.15;
var PLAIN_LEAST = 5e-4;
var newVertex = () => ({
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
  metal: false
});
var SKY = "sky";
function partOf(scene, groups) {
  const numbers = scene.items.flatMap(({ group }, index) => groups.includes(group) ? [index] : []);
  const part = buildGeometry({ ...scene, items: numbers.map((index) => scene.items[index]) });
  return { ...part, item: part.item.map((index) => numbers[index]) };
}
var Tracer = class {
  constructor(scene, width, height, {
    aperture = { radius: 0, focusDistance: 1 },
    run: run2 = 0,
    lampsApart = false,
    plain = false,
    visible
  } = {}) {
    this.scene = scene;
    this.width = width;
    this.height = height;
    this.aperture = aperture;
    this.run = run2;
    this.lampsApart = lampsApart;
    this.plain = plain;
    this.geometry = buildGeometry(scene);
    this.seen = visible ? partOf(scene, visible) : this.geometry;
    this.seesSky = !visible || visible.includes(SKY);
    this.materials = scene.items.map((item) => scene.materials[item.material]);
    this.groupOf = Uint8Array.from(scene.items, (item) => scene.groups.indexOf(item.group));
    this.lightOf = new Int16Array(scene.items.length).fill(-1);
    scene.items.forEach((item, index) => {
      const material = this.materials[index];
      if (material.kind !== "emitter" || item.shape.kind !== "sphere") return;
      const { centre, radius } = item.shape;
      this.lightOf[index] = this.lights.length;
      this.lights.push({
        centre,
        radius,
        radiance: material.radiance,
        strength: Math.max(...material.radiance) * radius * radius
      });
    });
    this.weights = new Float64Array(this.lights.length);
    this.lightData = Float64Array.from(
      this.lights.flatMap(({ centre, radius, strength }) => [...centre, radius, strength])
    );
    this.eye = eyeOf(scene, width);
  }
  scene;
  width;
  height;
  geometry;
  /** What the camera sees itself. */
  seen;
  seesSky;
  materials;
  groupOf;
  lights = [];
  lightOf;
  weights;
  /** Five numbers a light: centre, radius, strength. */
  lightData;
  sampler = new Sampler();
  detail = { shade: 1, roughness: 0, nx: 0, ny: 0, nz: 0 };
  eye;
  aperture;
  run;
  lampsApart;
  plain;
  /** Where on the lens the last sample passed, on the unit disc: to the right and up. */
  lensPoint = { x: 0, y: 0 };
  /** Where in the picture the last sample lies, in pixels. */
  imagePoint = { x: 0, y: 0 };
  /** Start of the last camera ray. */
  start = { x: 0, y: 0, z: 0 };
  firstHit = newHit();
  /** Its direction. */
  ray = { x: 0, y: 0, z: 1 };
  /** Planar depth in metres along the optical axis, through the middle of a pixel. */
  depth(x, y) {
    this.aim(x + 0.5, y + 0.5);
    const { x: dx, y: dy, z: dz } = this.ray;
    const hit = newHit();
    const { origin, forward } = this.eye;
    const found = intersect(this.seen, origin[0], origin[1], origin[2], dx, dy, dz, hit);
    if (!found) return this.seesSky ? this.scene.sky.distance : 0;
    return hit.distance * (dx * forward[0] + dy * forward[1] + dz * forward[2]);
  }
  /** Whether the last sample saw anything. */
  lastIsSeen() {
    return this.seesSky || this.firstHit.item >= 0;
  }
  /** Adds sample number `index` of pixel (x, y) to `sums`. */
  sample(x, y, index, sums) {
    const sampler = this.sampler;
    sampler.begin(y * this.width + x, index, this.run);
    sampler.draw();
    this.imagePoint.x = x + 0.5 + tent(sampler.u);
    this.imagePoint.y = y + 0.5 + tent(sampler.v);
    this.trace(sums);
  }
  /** Adds sample number `index` of the square of pixel (x, y), evenly drawn, to `sums`: {@link imagePoint} tells its place. */
  evenSample(x, y, index, sums) {
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
  shiftAt(focusDistance) {
    const { radius } = this.aperture;
    return radius * (1 / focusDistance - 1 / this.aperture.focusDistance) / this.eye.scale;
  }
  trace(sums) {
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
    sums[MATTE_AT + this.groupOf[hit.item]] += 1;
    const material = this.materials[hit.item];
    if (material.kind === "emitter") {
      const apart = this.lampsApart && this.lightOf[hit.item] >= 0;
      for (let c = 0; c < 3 && !apart; c++) sums[EMISSION + c] += material.radiance[c];
      this.addNormal(hit, sums);
      return;
    }
    if (this.plain) {
      this.plainLight(ox, oy, oz, dx, dy, dz, hit, true, sums, DIFFUSE);
      return;
    }
    if (material.kind === "glass") {
      this.addNormal(hit, sums);
      this.shadeGlass(material, ox, oy, oz, dx, dy, dz, hit, sums);
      return;
    }
    const vertex = newVertex();
    this.prepare(vertex, material, ox, oy, oz, dx, dy, dz, hit);
    sums[NORMAL_AT] += vertex.nx;
    sums[NORMAL_AT + 1] += vertex.ny;
    sums[NORMAL_AT + 2] += vertex.nz;
    this.shadeSurface(vertex, sums);
  }
  /** Turns the camera ray into one through another point of the lens that meets it in the focus plane. */
  throughLens() {
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
  drawLensPoint() {
    const { sampler, lensPoint } = this;
    sampler.draw();
    const r = Math.sqrt(sampler.u);
    const angle = 2 * Math.PI * sampler.v;
    lensPoint.x = r * Math.cos(angle);
    lensPoint.y = r * Math.sin(angle);
  }
  startAt(a, b) {
    const { origin, right, up } = this.eye;
    this.start.x = origin[0] + a * right[0] + b * up[0];
    this.start.y = origin[1] + a * right[1] + b * up[1];
    this.start.z = origin[2] + a * right[2] + b * up[2];
  }
  /** Whether what the last sample saw first is not in the pinhole's picture: hidden there, or outside the frame. */
  lastIsHidden() {
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
  pixelOf(x, y, z) {
    const { right, up, forward, scale } = this.eye;
    const along = x * forward[0] + y * forward[1] + z * forward[2];
    const a = (x * right[0] + y * right[1] + z * right[2]) / along;
    const b = (x * up[0] + y * up[1] + z * up[2]) / along;
    return [this.width / 2 + a / scale, this.height / 2 - b / scale];
  }
  get lampCount() {
    return this.lights.length;
  }
  /** Pixels that a lamp's image about covers when another distance is in focus. */
  lampFootprint(lamp2, focusDistance = this.aperture.focusDistance) {
    const { centre, radius } = this.lights[lamp2];
    const { origin, forward, scale } = this.eye;
    const z = (centre[0] - origin[0]) * forward[0] + (centre[1] - origin[1]) * forward[1] + (centre[2] - origin[2]) * forward[2];
    if (z <= 0) return 0;
    const blur = this.aperture.radius * Math.abs(1 / focusDistance - 1 / z) / scale;
    return Math.PI * (blur + radius / z / scale + 1) ** 2;
  }
  /**
   * Sends sample number `index` of a lamp that the camera may see through a point of the lens. Rare bright lamps make
   * smooth discs in this way, for which rays from the pixels would hit them too seldom. False if nothing arrives.
   */
  lampSample(lamp2, index, out) {
    const light = this.lights[lamp2];
    const { sampler, eye } = this;
    sampler.begin(lamp2 + 1073741824, index, this.run);
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
    out.x = this.width / 2 + ((x * right[0] + y * right[1] + z * right[2]) / along + a / focusDistance) / scale;
    out.y = this.height / 2 - ((x * up[0] + y * up[1] + z * up[2]) / along + b / focusDistance) / scale;
    if (!intersect(this.seen, px, py, pz, x, y, z, shadowHit)) return false;
    if (this.lightOf[shadowHit.item] !== lamp2) return false;
    const weight = cone.solidAngle / (along ** 3 * scale * scale);
    for (let c = 0; c < 3; c++) out.light[c] = weight * light.radiance[c];
    this.firstHit.item = shadowHit.item;
    this.firstHit.distance = shadowHit.distance;
    this.ray.x = x;
    this.ray.y = y;
    this.ray.z = z;
    out.hidden = radius > 0 && this.lastIsHidden();
    return true;
  }
  /** Turns the camera ray, through the middle of the lens, to a place in the picture. */
  aim(px, py) {
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
  plainLight(ox, oy, oz, dx, dy, dz, hit, throughGlass, out, at) {
    const material = this.materials[hit.item];
    if (material.kind === "emitter") {
      for (let c = 0; c < 3; c++) out[at + c] += Math.min(PLAIN_LAMP, material.radiance[c]);
    } else if (material.kind === "glass") {
      if (throughGlass) this.plainGlass(material, ox, oy, oz, dx, dy, dz, hit, out, at);
    } else {
      this.prepare(plainVertex, material, ox, oy, oz, dx, dy, dz, hit);
      this.plainSurface(plainVertex, out, at);
    }
  }
  plainSurface(vertex, out, at) {
    const { px, py, pz, nx, ny, nz, vx, vy, vz, alpha } = vertex;
    const facing = nx * vx + ny * vy + nz * vz;
    const mirrored = schlick(vertex.f0[0], facing) * (1 - alpha);
    const sky = scratch3.fill(0);
    this.addSky(nx, ny, nz, 1, sky, 0);
    for (let c = 0; c < 3; c++) out[at + c] += vertex.albedo[c] * sky[c];
    sky.fill(0);
    this.addSky(2 * facing * nx - vx, 2 * facing * ny - vy, 2 * facing * nz - vz, 1, sky, 0);
    for (let c = 0; c < 3; c++) out[at + c] += (vertex.metal ? vertex.f0[c] : mirrored) * sky[c];
    const { lights, lightData } = this;
    for (let index = 0, l = 0; index < lights.length; index++, l += 5) {
      const x = lightData[l] - px;
      const y = lightData[l + 1] - py;
      const z = lightData[l + 2] - pz;
      const square = x * x + y * y + z * z;
      const towards = x * nx + y * ny + z * nz;
      if (towards <= 0 || lightData[l + 4] < PLAIN_LEAST * square) continue;
      const inverse = 1 / Math.sqrt(square);
      const cosine = towards * inverse;
      const { radius, radiance } = lights[index];
      const solid = Math.PI * radius * radius / square;
      vertex.alpha = Math.min(1, alpha + 0.5 * radius * inverse + PLAIN_SOFTENING);
      evaluateSpecular(vertex, x * inverse, y * inverse, z * inverse, response);
      let most = 0;
      for (let c = 0; c < 3; c++) {
        const value = radiance[c] * solid * (vertex.albedo[c] * cosine / Math.PI + response[c]);
        lampLight[c] = value;
        most = Math.max(most, value);
      }
      if (most < PLAIN_SHADOWED) visibility.fill(1);
      else if (!this.visible(px, py, pz, x * inverse, y * inverse, z * inverse, index, visibility)) continue;
      for (let c = 0; c < 3; c++) out[at + c] += visibility[c] * Math.min(PLAIN_LAMP, lampLight[c]);
    }
    vertex.alpha = alpha;
  }
  plainGlass(material, ox, oy, oz, dx, dy, dz, hit, out, at) {
    const { place, mirrored, bent, reflectance: f } = meetGlass(material.index, ox, oy, oz, dx, dy, dz, hit);
    const [px, py, pz] = place;
    const [tx, ty, tz] = bent;
    const seen = new Float64Array(3);
    this.plainRay(...place, ...mirrored, seen);
    for (let c = 0; c < 3; c++) out[at + c] += f * seen[c];
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
      seen.fill(0)
    );
    for (let c = 0; c < 3; c++) out[at + c] += (1 - f) * (1 - f) * material.tint[c] ** length * seen[c];
  }
  plainRay(ox, oy, oz, dx, dy, dz, out) {
    const hit = newHit();
    if (intersect(this.geometry, ox, oy, oz, dx, dy, dz, hit))
      this.plainLight(ox, oy, oz, dx, dy, dz, hit, false, out, 0);
    else this.addSky(dx, dy, dz, 1, out, 0);
  }
  addNormal(hit, sums) {
    sums[NORMAL_AT] += hit.nx;
    sums[NORMAL_AT + 1] += hit.ny;
    sums[NORMAL_AT + 2] += hit.nz;
  }
  addSky(dx, dy, dz, weight, out, at) {
    const { zenith, horizon, glow, glowHeading, glowWidth } = this.scene.sky;
    const t = Math.exp(-5 * Math.max(0, dy));
    const heading = (Math.atan2(dx, dz) * 180 / Math.PI - glowHeading) / glowWidth;
    const g = Math.exp(-heading * heading - 14 * Math.max(0, dy));
    for (let c = 0; c < 3; c++)
      out[at + c] += weight * (zenith[c] + (horizon[c] - zenith[c]) * t + glow[c] * g);
  }
  /** Makes the vertex of a hit: position, bent normal, roughness, colours. */
  prepare(vertex, material, ox, oy, oz, dx, dy, dz, hit) {
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
    vertex.metal = material.kind === "metal";
    let shade = 1;
    if (material.kind === "coated") {
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
          d
        );
        shade = d.shade;
        vertex.alpha = d.roughness;
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
        vertex.albedo[c] = material.albedo[c] * shade;
      }
    } else {
      for (let c = 0; c < 3; c++) {
        vertex.f0[c] = material.reflectance[c];
        vertex.albedo[c] = 0;
      }
    }
  }
  shadeSurface(vertex, sums) {
    const sampler = this.sampler;
    const facing = vertex.nx * vertex.vx + vertex.ny * vertex.vy + vertex.nz * vertex.vz;
    if (!vertex.metal) {
      this.addDirect(vertex, "diffuse", sums, DIFFUSE, 1, 1, 1, Infinity);
      sampler.draw();
      const [bx, by, bz, share] = this.diffuseDirection(vertex, sampler.u, sampler.v);
      const through = share * (1 - schlick(vertex.f0[0], facing));
      const tint = vertex.albedo.map((a) => a * through);
      if (intersect(this.geometry, vertex.px, vertex.py, vertex.pz, bx, by, bz, bounceHit)) {
        this.path(vertex.px, vertex.py, vertex.pz, bx, by, bz, "none", 0, vertex, ...tint, sums, INDIRECT);
      } else {
        const sky = scratch3.fill(0);
        this.addSky(bx, by, bz, 1, sky, 0);
        for (let c = 0; c < 3; c++) sums[DIFFUSE + c] += tint[c] * sky[c];
      }
    }
    this.addDirect(vertex, "specular", sums, SPECULAR, 1, 1, 1, Infinity);
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
      "shared",
      mirror.pdf,
      vertex,
      w[0],
      w[1],
      w[2],
      sums,
      SPECULAR
    );
  }
  shadeGlass(material, ox, oy, oz, dx, dy, dz, hit, sums) {
    const { place, mirrored, bent, reflectance: f } = meetGlass(material.index, ox, oy, oz, dx, dy, dz, hit);
    this.path(...place, ...mirrored, "all", 0, void 0, f, f, f, sums, SPECULAR);
    const t = 1 - f;
    this.path(...place, ...bent, "all", 0, void 0, t, t, t, sums, TRANSMISSION);
  }
  /**
   * A way on from a diffuse surface, and the cosine over pi by the chance it had: half of them are aimed at the windows before
   * it, if there are any, by the balance heuristic for one sample (Veach 1997).
   */
  diffuseDirection(vertex, u, v) {
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
  chooseLight(vertex, lobe, u) {
    const { weights } = this;
    const total = this.weighLights(vertex, lobe === "specular");
    if (!(total > 0)) return 0;
    let rest = u * total;
    for (let i = 0; i < weights.length; i++) {
      rest -= weights[i];
      if (rest < 0 && weights[i] > 0) {
        chosen.light = i;
        chosen.v = (rest + weights[i]) / weights[i];
        return weights[i] / total;
      }
    }
    return 0;
  }
  lightChance(vertex, index) {
    const total = this.weighLights(vertex, true);
    return total > 0 ? this.weights[index] / total : 0;
  }
  /** Fills `weights` with what each light would about bring to a lobe; returns their sum. */
  weighLights(vertex, specular) {
    const { weights, lightData } = this;
    const { px, py, pz, nx, ny, nz, vx, vy, vz, alpha } = vertex;
    let total = 0;
    for (let i = 0, at = 0; i < weights.length; i++, at += 5) {
      const x = lightData[at] - px;
      const y = lightData[at + 1] - py;
      const z = lightData[at + 2] - pz;
      const square = x * x + y * y + z * z;
      const inverse = 1 / Math.sqrt(square);
      const sine = Math.min(1, lightData[at + 3] * inverse);
      const cosine = (x * nx + y * ny + z * nz) * inverse + sine;
      let weight = cosine > 0 ? lightData[at + 4] * cosine / square : 0;
      if (specular && weight > 0) {
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
  addDirect(vertex, lobe, out, at, tr, tg, tb, limit) {
    const sampler = this.sampler;
    sampler.draw();
    const chance = this.chooseLight(vertex, lobe, sampler.u);
    const { v: angle } = sampler;
    if (chance === 0) return;
    const light = this.lights[chosen.light];
    const cone = coneTo(vertex, light);
    if (!coneDirection(cone, chosen.v, angle)) return;
    const { x, y, z } = toLight;
    const cl = x * vertex.nx + y * vertex.ny + z * vertex.nz;
    if (cl <= 0) return;
    const pdf = chance / cone.solidAngle;
    if (lobe === "diffuse") {
      const cv = vertex.nx * vertex.vx + vertex.ny * vertex.vy + vertex.nz * vertex.vz;
      const scale = (1 - schlick(vertex.f0[0], cl)) * (1 - schlick(vertex.f0[0], cv)) * cl / (Math.PI * pdf);
      for (let c = 0; c < 3; c++) response[c] = vertex.albedo[c] * scale;
    } else {
      const lobePdf = evaluateSpecular(vertex, x, y, z, response);
      const share = powerShare(pdf, lobePdf);
      for (let c = 0; c < 3; c++) response[c] = response[c] * share / pdf;
    }
    if (response[0] + response[1] + response[2] <= 0) return;
    const [r0, r1, r2] = [response[0], response[1], response[2]];
    if (!this.visible(vertex.px, vertex.py, vertex.pz, x, y, z, chosen.light, visibility)) return;
    const L = light.radiance;
    out[at] += Math.min(limit, tr * r0 * L[0] * visibility[0]);
    out[at + 1] += Math.min(limit, tg * r1 * L[1] * visibility[1]);
    out[at + 2] += Math.min(limit, tb * r2 * L[2] * visibility[2]);
  }
  /** Whether a lamp is seen along a ray; glass lets its tint through (the bundling of light by it is left out). */
  visible(px, py, pz, dx, dy, dz, light, tint) {
    tint.fill(1);
    let [ox, oy, oz] = [px, py, pz];
    for (let crossing = 0; crossing < 8; crossing++) {
      if (!intersect(this.geometry, ox, oy, oz, dx, dy, dz, shadowHit)) return false;
      if (this.lightOf[shadowHit.item] === light) return true;
      const material = this.materials[shadowHit.item];
      if (material.kind !== "glass") return false;
      const inside = dx * shadowHit.nx + dy * shadowHit.ny + dz * shadowHit.nz > 0;
      for (let c = 0; c < 3; c++) tint[c] *= inside ? material.tint[c] ** shadowHit.distance : 0.92;
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
  path(ox, oy, oz, dx, dy, dz, lamps2, pdf, from, tr, tg, tb, out, at) {
    const hit = newHit();
    let inside = false;
    let origin = from;
    let clear = from === void 0;
    const vertex = newVertex();
    for (let bounce = 1; bounce <= MAX_BOUNCES + (inside ? 4 : 0); bounce++) {
      if (!intersect(this.geometry, ox, oy, oz, dx, dy, dz, hit)) {
        const sky = scratch3.fill(0);
        this.addSky(dx, dy, dz, 1, sky, 0);
        out[at] += tr * sky[0];
        out[at + 1] += tg * sky[1];
        out[at + 2] += tb * sky[2];
        return;
      }
      const material = this.materials[hit.item];
      if (material.kind === "emitter") {
        const light = this.lightOf[hit.item];
        let share = lamps2 === "none" ? 0 : 1;
        if (lamps2 === "shared" && light >= 0 && origin) {
          const cone = coneTo(origin, this.lights[light]);
          share = powerShare(pdf, this.lightChance(origin, light) / cone.solidAngle);
        }
        const L = material.radiance;
        const limit2 = clear || bounce === 1 && light >= 0 ? Infinity : BOUNCE_LIMIT;
        out[at] += Math.min(limit2, tr * share * L[0]);
        out[at + 1] += Math.min(limit2, tg * share * L[1]);
        out[at + 2] += Math.min(limit2, tb * share * L[2]);
        return;
      }
      const [hx, hy, hz] = [ox + hit.distance * dx, oy + hit.distance * dy, oz + hit.distance * dz];
      if (material.kind === "glass") {
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
        lamps2 = "all";
        continue;
      }
      this.prepare(vertex, material, ox, oy, oz, dx, dy, dz, hit);
      vertex.alpha = Math.max(vertex.alpha, 0.15);
      const limit = clear ? 6 * BOUNCE_LIMIT : BOUNCE_LIMIT;
      if (!vertex.metal) this.addDirect(vertex, "diffuse", out, at, tr, tg, tb, limit);
      this.addDirect(vertex, "specular", out, at, tr, tg, tb, limit);
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
        lamps2 = "shared";
        origin = { ...vertex };
      } else {
        let share;
        [dx, dy, dz, share] = this.diffuseDirection(vertex, this.sampler.u, this.sampler.v);
        const through = share * (1 - schlick(vertex.f0[0], facing)) / (1 - mirrorChance);
        tr *= vertex.albedo[0] * through;
        tg *= vertex.albedo[1] * through;
        tb *= vertex.albedo[2] * through;
        lamps2 = "none";
      }
      [ox, oy, oz] = [vertex.px, vertex.py, vertex.pz];
      const survive = Math.min(1, Math.max(tr, tg, tb) * 4);
      this.sampler.draw();
      if (this.sampler.u >= survive) return;
      tr /= survive;
      tg /= survive;
      tb /= survive;
    }
  }
};
var bounceHit = newHit();
var shadowHit = newHit();
var chosen = { light: 0, v: 0 };
var toLight = { x: 0, y: 0, z: 0 };
var response = new Float64Array(3);
var visibility = new Float64Array(3);
var scratch3 = new Float64Array(3);
var plainVertex = newVertex();
var lampLight = new Float64Array(3);
var mirror = { x: 0, y: 0, z: 0, pdf: 0, weight: [0, 0, 0] };
function eyeOf(scene, width) {
  const { position, target, focalLength, sensorWidth } = scene.camera;
  const f = [target[0] - position[0], target[1] - position[1], target[2] - position[2]];
  const length = Math.hypot(...f);
  const forward = [f[0] / length, f[1] / length, f[2] / length];
  const level = Math.hypot(forward[0], forward[2]);
  const right = [forward[2] / level, 0, -forward[0] / level];
  const up = [
    forward[1] * right[2],
    forward[2] * right[0] - forward[0] * right[2],
    -forward[1] * right[0]
  ];
  return {
    origin: position,
    right,
    up,
    forward,
    scale: sensorWidth / focalLength / width
  };
}
function tent(u) {
  return u < 0.5 ? Math.sqrt(2 * u) - 1 : 1 - Math.sqrt(2 - 2 * u);
}
function meetGlass(index, ox, oy, oz, dx, dy, dz, { distance, nx, ny, nz }) {
  const cosine = -(dx * nx + dy * ny + dz * nz);
  const eta = 1 / index;
  const k = eta * cosine - Math.sqrt(Math.max(0, 1 - eta * eta * (1 - cosine * cosine)));
  return {
    place: [ox + distance * dx, oy + distance * dy, oz + distance * dz],
    mirrored: [dx + 2 * cosine * nx, dy + 2 * cosine * ny, dz + 2 * cosine * nz],
    bent: [eta * dx + k * nx, eta * dy + k * ny, eta * dz + k * nz],
    reflectance: fresnel(cosine, index)
  };
}
function fresnel(cosine, index) {
  const c = Math.min(1, Math.max(0, cosine));
  const t = Math.sqrt(1 - (1 - c * c) / (index * index));
  const s = (c - index * t) / (c + index * t);
  const p = (index * c - t) / (index * c + t);
  return (s * s + p * p) / 2;
}
function schlick(f0, cosine) {
  const m = Math.min(1, Math.max(0, 1 - cosine));
  return f0 + (1 - f0) * m * m * m * m * m;
}
function distribution(cosine, alpha) {
  if (cosine <= 0) return 0;
  const a = alpha * alpha;
  const d = cosine * cosine * (a - 1) + 1;
  return a / (Math.PI * d * d);
}
function masking(cosine, alpha) {
  const c = Math.max(1e-4, cosine);
  return (Math.sqrt(1 + alpha * alpha * (1 - c * c) / (c * c)) - 1) / 2;
}
function evaluateSpecular(v, lx, ly, lz, out) {
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
  for (let c = 0; c < 3; c++) out[c] = schlick(v.f0[c], lh) * scale;
  return d / (4 * cv * (1 + mv));
}
function reflect(v, u1, u2, out) {
  const sign = v.nz >= 0 ? 1 : -1;
  const a = -1 / (sign + v.nz);
  const b = v.nx * v.ny * a;
  const t = [1 + sign * v.nx * v.nx * a, sign * b, -sign * v.nx];
  const s = [b, sign + v.ny * v.ny * a, -v.ny];
  const x = v.vx * t[0] + v.vy * t[1] + v.vz * t[2];
  const y = v.vx * s[0] + v.vy * s[1] + v.vz * s[2];
  const z = Math.max(1e-3, v.vx * v.nx + v.vy * v.ny + v.vz * v.nz);
  const stretch = Math.sqrt(v.alpha * v.alpha * (x * x + y * y) + z * z);
  const [wx, wy, wz] = [v.alpha * x / stretch, v.alpha * y / stretch, z / stretch];
  const flat = wx * wx + wy * wy;
  const [t1x, t1y] = flat > 0 ? [-wy / Math.sqrt(flat), wx / Math.sqrt(flat)] : [1, 0];
  const [t2x, t2y, t2z] = [-wz * t1y, wz * t1x, wx * t1y - wy * t1x];
  const r = Math.sqrt(u1);
  const phi = 2 * Math.PI * u2;
  const p1 = r * Math.cos(phi);
  const half2 = (1 + wz) / 2;
  const p2 = (1 - half2) * Math.sqrt(1 - p1 * p1) + half2 * r * Math.sin(phi);
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
  for (let c = 0; c < 3; c++) out.weight[c] = schlick(v.f0[c], vh) * (1 + mv) / (1 + mv + ml);
  out.pdf = distribution(hz, v.alpha) / (4 * z * (1 + mv));
  return true;
}
function cosineDirection(v, u1, u2) {
  const phi = 2 * Math.PI * u1;
  const z = 1 - 2 * u2;
  const r = Math.sqrt(Math.max(0, 1 - z * z));
  const x = v.nx + r * Math.cos(phi);
  const y = v.ny + r * Math.sin(phi);
  const w = v.nz + z * 0.9999;
  const length = Math.sqrt(x * x + y * y + w * w);
  return [x / length, y / length, w / length];
}
var dot = (a, x, y, z) => a[0] * x + a[1] * y + a[2] * z;
function normalOf({ u, v }) {
  return [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
}
function inFrontOf(portal, { px, py, pz }) {
  const [cx, cy, cz] = portal.corner;
  return dot(normalOf(portal), px - cx, py - cy, pz - cz);
}
function directionTo(portal, { px, py, pz }, a, b) {
  const { corner, u, v } = portal;
  const x = corner[0] + a * u[0] + b * v[0] - px;
  const y = corner[1] + a * u[1] + b * v[1] - py;
  const z = corner[2] + a * u[2] + b * v[2] - pz;
  const length = Math.sqrt(x * x + y * y + z * z);
  return [x / length, y / length, z / length];
}
function portalChance(portal, vertex, x, y, z) {
  const towards = -dot(normalOf(portal), x, y, z);
  if (towards <= 0) return 0;
  const { px, py, pz } = vertex;
  const distance = inFrontOf(portal, vertex) / towards;
  const { corner, u, v } = portal;
  const [qx, qy, qz] = [
    px + distance * x - corner[0],
    py + distance * y - corner[1],
    pz + distance * z - corner[2]
  ];
  const [a, b] = [dot(u, qx, qy, qz) / dot(u, ...u), dot(v, qx, qy, qz) / dot(v, ...v)];
  return a < 0 || a > 1 || b < 0 || b > 1 ? 0 : distance * distance / towards;
}
function coneTo(v, light) {
  const [x, y, z] = [light.centre[0] - v.px, light.centre[1] - v.py, light.centre[2] - v.pz];
  const distance = Math.sqrt(x * x + y * y + z * z);
  const sine2 = Math.min(0.9999, (light.radius / distance) ** 2);
  const height = sine2 / (1 + Math.sqrt(1 - sine2));
  return { x: x / distance, y: y / distance, z: z / distance, solidAngle: 2 * Math.PI * height, height };
}
function coneDirection(cone, u1, u2) {
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
function powerShare(own, other) {
  return own * own / (own * own + other * other);
}

// demo/tracer/rows.ts
import { availableParallelism } from "node:os";
import { parentPort, Worker } from "node:worker_threads";
async function overRows(script, workerData2, height, take) {
  let next = 0;
  let done = 0;
  const started = Date.now();
  const seconds = () => (Date.now() - started) / 1e3;
  const serve = (worker) => new Promise((resolve, reject) => {
    const feed = () => {
      if (next < height) worker.postMessage(next++);
      else void worker.terminate().then(() => resolve());
    };
    worker.on("error", reject);
    worker.on("message", (row) => {
      take(row);
      done++;
      const left = Math.round(seconds() / done * (height - done));
      if (process.stderr.isTTY) process.stderr.write(`\rrow ${done} of ${height}, ${left} s left   `);
      else if (done % 100 === 0) process.stderr.write(`row ${done} of ${height}, ${left} s left
`);
      feed();
    });
    feed();
  });
  await Promise.all(
    Array.from({ length: availableParallelism() }, () => serve(new Worker(script, { workerData: workerData2 })))
  );
  process.stderr.write(`${process.stderr.isTTY ? "\r" : ""}rendered in ${Math.round(seconds())} s
`);
}
function serveRows(render2) {
  parentPort.on("message", (y) => {
    const { row, transfer } = render2(y);
    parentPort.postMessage(row, transfer);
  });
}

// demo/render.ts
var SUBJECTS = {
  quay: { scene: quayScene },
  stone: { scene: stoneScene },
  "interior-view": { scene: interiorScene, visible: [...INTERIOR.view, SKY] },
  "interior-room": { scene: interiorScene, visible: INTERIOR.room, smooth: true }
};
var channelCount = (groups) => MATTE_AT + groups;
function renderRows({ subject, width, height, samples }) {
  const { scene: sceneOf, visible } = SUBJECTS[subject];
  const scene = sceneOf();
  const tracer = new Tracer(scene, width, height, visible && { visible });
  const count = channelCount(scene.groups.length);
  serveRows((y) => {
    const sums = new Float64Array(width * count);
    const depth = new Float32Array(width);
    for (let x = 0; x < width; x++) {
      const pixel = sums.subarray(x * count, (x + 1) * count);
      for (let index = 0; index < samples; index++) tracer.sample(x, y, index, pixel);
      for (let k = 0; k < count; k++) pixel[k] /= samples;
      depth[x] = tracer.depth(x, y);
    }
    return { row: { y, sums, depth }, transfer: [sums.buffer, depth.buffer] };
  });
}
async function render(job) {
  const { width, height } = job;
  const { scene: sceneOf, visible, smooth } = SUBJECTS[job.subject];
  const scene = sceneOf();
  const count = channelCount(scene.groups.length);
  const planes = Array.from({ length: count }, () => new Float32Array(width * height));
  const depth = new Float32Array(width * height);
  await overRows(fileURLToPath(import.meta.url), job, height, ({ y, sums, depth: line }) => {
    for (let x = 0; x < width; x++)
      for (let k = 0; k < count; k++) planes[k][y * width + x] = sums[x * count + k];
    depth.set(line, y * width);
  });
  if (smooth) smoothIndirect(planes, depth, width);
  return assemble(planes, depth, scene, visible, width, height);
}
function smoothIndirect(planes, depth, width) {
  const at = 3 * LIGHT_PASSES.indexOf("indirect");
  const guides = [
    ...planes.slice(NORMAL_AT, MATTE_AT).map((plane) => ({ plane, spread: 0.15 })),
    ...planes.slice(MATTE_AT).map((plane) => ({ plane, spread: 0.2 })),
    { plane: depth, spread: 0.06 }
  ];
  smoothWithin(planes.slice(at, at + 3), guides, width, 3).forEach((plane, c) => planes[at + c] = plane);
}
function assemble(planes, depth, { groups, camera }, visible, width, height) {
  const picture = emptyPicture(width, height);
  const rgb = ["R", "G", "B"];
  rgb.forEach((channel, c) => {
    const sum = new Float32Array(width * height);
    LIGHT_PASSES.forEach((pass, index) => {
      const halves = floatsToHalves(planes[index * 3 + c]);
      const rounded = halvesToFloats(halves);
      for (let i = 0; i < sum.length; i++) sum[i] += rounded[i];
      addChannel(picture, `${pass}.${channel}`, "half", halves);
    });
    addChannel(picture, channel, "half", floatsToHalves(sum));
  });
  ["X", "Y", "Z"].forEach(
    (channel, c) => addChannel(picture, `N.${channel}`, "half", floatsToHalves(planes[NORMAL_AT + c]))
  );
  const seen = groups.flatMap(
    (group, k) => !visible || visible.includes(group) ? [{ group, coverage: planes[MATTE_AT + k] }] : []
  );
  for (const { group, coverage } of seen)
    addChannel(picture, `matte.${group}`, "half", floatsToHalves(coverage));
  if (visible && !visible.includes(SKY)) {
    const alpha = depth.map((_, i) => seen.reduce((sum, { coverage }) => sum + coverage[i], 0));
    addChannel(picture, "A", "half", floatsToHalves(alpha));
  }
  addChannel(picture, "depth.Z", "float", depth);
  for (const [name, attribute] of cameraAttributes(camera, { width, height }))
    picture.attributes.set(name, attribute);
  return picture;
}
if (isMainThread) {
  const [subject, out, width = "1280", height = "720", samples = "128"] = process.argv.slice(2);
  if (!subject || !(subject in SUBJECTS) || !out)
    throw new Error(`usage: demo-render ${Object.keys(SUBJECTS).join("|")} OUT.exr [WIDTH HEIGHT SAMPLES]`);
  const size = { width: Number(width), height: Number(height), samples: Number(samples) };
  const picture = await render({ subject, ...size });
  mkdirSync(dirname(out), { recursive: true });
  writeFileSync(out, await writeExr(picture));
  process.stderr.write(`${out} written
`);
} else {
  renderRows(workerData);
}
//# sourceMappingURL=demo-render.mjs.map
