/**
 * Typed arrays are compared here: Jest compares every element by its general rules, which takes seconds for the planes of a
 * picture. As with those rules NaN is NaN, and 0 is not −0.
 */
function sameTypedArrays(a, b) {
  if (!ArrayBuffer.isView(a) || !ArrayBuffer.isView(b) || !('length' in a) || !('length' in b))
    return undefined;
  if (Object.prototype.toString.call(a) !== Object.prototype.toString.call(b) || a.length !== b.length)
    return false;
  for (let i = 0, n = a.length; i < n; i++) {
    const x = a[i];
    const y = b[i];
    if (x !== y ? x === x || y === y : x === 0 && 1 / x !== 1 / y) return false;
  }
  return true;
}

expect.addEqualityTesters([sameTypedArrays]);
