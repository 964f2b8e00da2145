/** Seeded random numbers: the same seed gives the same sequence everywhere. */
export interface Random {
  /** Uniform in [0, 1). */
  next(): number;
  /** Uniform in [from, to). */
  between(from: number, to: number): number;
  /** Whole number in [0, below). */
  whole(below: number): number;
  /** Normal with mean 0 and standard deviation 1 (sum of uniforms, within ±6). */
  normal(): number;
}

/** 32-bit finaliser with good avalanche (after Chris Wellons' search, "lowbias32"). */
export function hash32(x: number): number {
  x = Math.imul(x ^ (x >>> 16), 0x7feb352d);
  x = Math.imul(x ^ (x >>> 15), 0x846ca68b);
  return (x ^ (x >>> 16)) >>> 0;
}

/** Uniform [0, 1) from up to three whole numbers and a seed. */
export function hashUnit(x: number, y: number, z: number, seed: number): number {
  return (
    hash32(
      hash32(hash32(x ^ Math.imul(seed, 0x9e3779b1)) ^ Math.imul(y, 0x85ebca77)) ^ Math.imul(z, 0xc2b2ae3d),
    ) / 4294967296
  );
}

/** Counter-based generator over hash32. */
export function seededRandom(seed: number): Random {
  let counter = hash32(seed ^ 0x5bd1e995);
  const next = () => {
    counter = (counter + 0x9e3779b9) >>> 0;
    return hash32(counter) / 4294967296;
  };
  return {
    next,
    between: (from, to) => from + (to - from) * next(),
    whole: (below) => Math.floor(next() * below),
    normal: () => {
      let sum = 0;
      for (let i = 0; i < 12; i++) sum += next();
      return sum - 6;
    },
  };
}
