// Compiled to WebAssembly by `npm run kernels`; not part of the TypeScript program.
//
// Patients go through a tree, all of them from node to node together, as they are and as if some of their values were
// others. Alternatives that alter the same inputs are a kind of up to 32, each a bit: those that lead a patient to the
// same node go on as one traveller (u32: patient, and kind above the 16th bit; u32: bits).
//
// Values are codes (u16): of a number, how many thresholds of its input it reaches; of levels, which it is; 65,535 where
// it is not known. A node is 12 bytes (u32 each): the least code that goes right, or of levels, where they begin in
// `levels`; address of the left child (the right one stands next to it), or of what a leaf says; eight times its input
// with flags in the lowest bits: 1 where those who lack the input go left, 2 more where it is levels, 4 for a leaf.

let levels: usize = 0;
let columns: usize = 0;
let stride: usize = 0;
let lists: usize = 0;
let blocks: usize = 0;
let kinds: usize = 0;
let kindCount: usize = 0;
let patients: usize = 0;
let travellers: usize = 0;
let aside: usize = 0;
let frames: usize = 0;
let staying: usize = 0;
let stayingStride: usize = 0;
let arrived: usize = 0;
let said: usize = 0;
let sums: usize = 0;
let more: usize = 0;
let width: usize = 0;
let step: usize = 0;
let moreStep: usize = 0;

/**
 * Says where all stands.
 *
 * @param columnsAt codes of the patients as they are, input by input, each `strideBytes` after the other
 * @param listsAt by input (two u32): where the kinds begin that alter it (u32 each), and how many they are
 * @param blocksAt by input and kind (u32): where the codes of its alternatives stand (those of a patient side by side,
 *   counted up to eight), or 0
 * @param kindsAt by kind (four u32): bytes of the codes of a patient; the place of its first among all; a bit for
 *   each; pairs of places
 * @param patientsAt room for a patient (u32) each, twice
 * @param travellersAt room for all alternatives of all patients
 * @param asideAt as much again
 * @param framesAt room for seven u32 for each question of the deepest way
 * @param stayingAt room for bits (u32) by kind and patient, each kind `stayingBytes` after the other
 * @param arrivedAt room for three u32 for each alternative of each patient
 * @param saidAt room for a u32 each patient
 * @param moreAt what alternatives come to more (f64), patient by patient, in the order of kinds, as many as sums
 */
export function lay(
  levelsAt: usize,
  columnsAt: usize,
  strideBytes: usize,
  listsAt: usize,
  blocksAt: usize,
  kindsAt: usize,
  kindsAll: usize,
  patientsAt: usize,
  travellersAt: usize,
  asideAt: usize,
  framesAt: usize,
  stayingAt: usize,
  stayingBytes: usize,
  arrivedAt: usize,
  saidAt: usize,
  sumsAt: usize,
  moreAt: usize,
  leafWidth: usize,
  sumBytes: usize,
  moreBytes: usize,
): void {
  levels = levelsAt;
  columns = columnsAt;
  stride = strideBytes;
  lists = listsAt;
  blocks = blocksAt;
  kinds = kindsAt;
  kindCount = kindsAll;
  patients = patientsAt;
  travellers = travellersAt;
  aside = asideAt;
  frames = framesAt;
  staying = stayingAt;
  stayingStride = stayingBytes;
  arrived = arrivedAt;
  said = saidAt;
  sums = sumsAt;
  more = moreAt;
  width = leafWidth << 3;
  step = sumBytes;
  moreStep = moreBytes;
}

/** Adds to sums (from a place of each on, in bytes) what the leaves of a tree say, and to those of alternatives what theirs say more. */
export function add(root: usize, count: i32, place: usize): void {
  for (let i = 0; i < count; i++) store<u32>(patients + (<usize>i << 2), i);
  stayAll(count);
  const patientsEnd = patients + (<usize>count << 2);
  goThrough(root, patientsEnd);
  addArrived(place);
  let to = sums + place;
  for (let i = 0; i < count; i++, to += step) addTo(to, load<u32>(said + (<usize>i << 2)), 0);
}

/** At first every alternative is where its patient is. */
function stayAll(count: i32): void {
  for (let kind: usize = 0; kind < kindCount; kind++) {
    const all = i32x4.splat(load<u32>(kinds + (kind << 4), 8));
    const from = staying + kind * stayingStride;
    const end = from + (<usize>count << 2);
    for (let to = from; to < end; to += 16) v128.store(to, all);
  }
}

/** From the root to the leaves. */
function goThrough(root: usize, patientsEnd: usize): void {
  arrivedEnd = arrived;
  let frame = goOn(frames, root, patients, patientsEnd, travellers, travellers, patientsEnd, aside);
  while (frame > frames) {
    frame -= 28;
    const node = <usize>load<u32>(frame);
    const own = <usize>load<u32>(frame, 4);
    const ownEnd = <usize>load<u32>(frame, 8);
    const others = <usize>load<u32>(frame, 12);
    const othersEnd = <usize>load<u32>(frame, 16);
    const spareOwn = <usize>load<u32>(frame, 20);
    const spare = <usize>load<u32>(frame, 24);
    const word = load<u32>(node, 8);
    const input = <usize>(word >> 3);
    const lift = word & 1;
    const least = load<u32>(node) + (word & 2 ? <u32>levels : lift);
    const column = columns + input * stride;
    const ways = blocks + ((input * kindCount) << 2);
    const list = lists + (input << 3);
    const listed = <usize>load<u32>(list);
    const listedEnd = listed + (<usize>load<u32>(list, 4) << 2);
    // Two stacks: those who go right stay on theirs, those who go left are put on the other.
    if ((word & 2) == 0) {
      partTravellers(least, lift, column, ways, others, othersEnd, spare);
      for (let at = listed; at < listedEnd; at += 4)
        leave(least, lift, column, ways, load<u32>(at), own, ownEnd);
      partPatients(least, lift, column, own, ownEnd, spareOwn);
    } else {
      partTravellersByLevel(least, lift, column, ways, others, othersEnd, spare);
      for (let at = listed; at < listedEnd; at += 4)
        leaveByLevel(least, lift, column, ways, load<u32>(at), own, ownEnd);
      partPatientsByLevel(least, lift, column, own, ownEnd, spareOwn);
    }
    const left = <usize>load<u32>(node, 4);
    frame = goOn(frame, left + 12, own, ownRight, others, rightEnd, spareOwn, spare);
    frame = goOn(frame, left, spareOwn, ownLeft, spare, leftEnd, ownRight, rightEnd);
  }
}

let arrivedEnd: usize = 0;

/** Who came to a node: of a leaf it is noted who they are, else they wait for their turn. */
// @ts-ignore: decorator
@inline
function goOn(
  frame: usize,
  node: usize,
  own: usize,
  ownEnd: usize,
  others: usize,
  othersEnd: usize,
  spareOwn: usize,
  spare: usize,
): usize {
  if (own == ownEnd && others == othersEnd) return frame;
  if ((load<u32>(node, 8) & 4) == 0) {
    store<u32>(frame, <u32>node);
    store<u32>(frame, <u32>own, 4);
    store<u32>(frame, <u32>ownEnd, 8);
    store<u32>(frame, <u32>others, 12);
    store<u32>(frame, <u32>othersEnd, 16);
    store<u32>(frame, <u32>spareOwn, 20);
    store<u32>(frame, <u32>spare, 24);
    return frame + 28;
  }
  const leaf = load<u32>(node, 4);
  for (let at = own; at < ownEnd; at += 4) store<u32>(said + (<usize>load<u32>(at) << 2), leaf);
  let to = arrivedEnd;
  for (let at = others; at < othersEnd; at += 8, to += 12) {
    store<u64>(to, load<u64>(at));
    store<u32>(to, leaf, 8);
  }
  arrivedEnd = to;
  return frame;
}

// Where those end who went right and left: patients, and travellers.
let ownRight: usize = 0;
let ownLeft: usize = 0;
let rightEnd: usize = 0;
let leftEnd: usize = 0;

// What a node is, for the loops below. `least`: the least code that goes right, once codes are lifted; of levels, where
// they begin. `lift`: one where those go left who lack the input: what is not known is then the least of all codes.
// `column`: codes of the input. `ways`: by kind, where the codes of its alternatives stand. Each loop is a function of
// its own, and exported so that it stays one: what does not change in it is given, and is not worked out each time.

export function partTravellers(
  least: u32,
  lift: u32,
  column: usize,
  ways: usize,
  from: usize,
  to: usize,
  spare: usize,
): void {
  goApart(least, lift, column, ways, from, to, spare, false);
}

export function partTravellersByLevel(
  least: u32,
  lift: u32,
  column: usize,
  ways: usize,
  from: usize,
  to: usize,
  spare: usize,
): void {
  goApart(least, lift, column, ways, from, to, spare, true);
}

/** Those who are on another way than their patients already. */
// @ts-ignore: decorator
@inline
function goApart(
  least: u32,
  lift: u32,
  column: usize,
  ways: usize,
  from: usize,
  to: usize,
  spare: usize,
  byLevel: bool,
): void {
  let right = from;
  let left = spare;
  for (let at = from; at < to; at += 8) {
    const who = load<u32>(at);
    const i = <usize>(who & 0xffff);
    const kind = <usize>(who >> 16);
    const block = <usize>load<u32>(ways + (kind << 2));
    if (block == 0) {
      const goes = goesRight(load<u16>(column + (i << 1)), least, lift, byLevel);
      const traveller = load<u64>(at);
      store<u64>(right, traveller);
      right += <usize>goes << 3;
      store<u64>(left, traveller);
      left += <usize>(goes ^ 1) << 3;
    } else {
      const bits = load<u32>(at, 4);
      const rights = bits & rightsOf(block, i, load<u32>(kinds + (kind << 4)), least, lift, byLevel);
      const lefts = bits & ~rights;
      store<u64>(right, <u64>who | ((<u64>rights) << 32));
      right += <usize>(rights != 0) << 3;
      store<u64>(left, <u64>who | ((<u64>lefts) << 32));
      left += <usize>(lefts != 0) << 3;
    }
  }
  rightEnd = right;
  leftEnd = left;
}

export function leave(
  least: u32,
  lift: u32,
  column: usize,
  ways: usize,
  kind: u32,
  from: usize,
  to: usize,
): void {
  becomeTravellers(least, lift, column, ways, kind, from, to, false);
}

export function leaveByLevel(
  least: u32,
  lift: u32,
  column: usize,
  ways: usize,
  kind: u32,
  from: usize,
  to: usize,
): void {
  becomeTravellers(least, lift, column, ways, kind, from, to, true);
}

/** Alternatives of a kind that leave their patient here become travellers. */
// @ts-ignore: decorator
@inline
function becomeTravellers(
  least: u32,
  lift: u32,
  column: usize,
  ways: usize,
  kind: u32,
  from: usize,
  to: usize,
  byLevel: bool,
): void {
  const block = <usize>load<u32>(ways + (<usize>kind << 2));
  const bytes = load<u32>(kinds + (<usize>kind << 4));
  const stays = staying + <usize>kind * stayingStride;
  let right = rightEnd;
  let left = leftEnd;
  for (let at = from; at < to; at += 4) {
    const i = load<u32>(at);
    const bits = load<u32>(stays + (<usize>i << 2));
    if (bits == 0) continue;
    const goes = goesRight(load<u16>(column + (<usize>i << 1)), least, lift, byLevel);
    const rights = rightsOf(block, <usize>i, bytes, least, lift, byLevel);
    const leaving = bits & (rights ^ (0 - goes));
    store<u32>(stays + (<usize>i << 2), bits ^ leaving);
    const traveller = <u64>(i | (kind << 16)) | ((<u64>leaving) << 32);
    store<u64>(right, traveller);
    store<u64>(left, traveller);
    const some = <u32>(leaving != 0);
    right += <usize>(some & (goes ^ 1)) << 3;
    left += <usize>(some & goes) << 3;
  }
  rightEnd = right;
  leftEnd = left;
}

export function partPatients(
  least: u32,
  lift: u32,
  column: usize,
  from: usize,
  to: usize,
  spare: usize,
): void {
  goTheirWay(least, lift, column, from, to, spare, false);
}

export function partPatientsByLevel(
  least: u32,
  lift: u32,
  column: usize,
  from: usize,
  to: usize,
  spare: usize,
): void {
  goTheirWay(least, lift, column, from, to, spare, true);
}

/** Patients as they are. */
// @ts-ignore: decorator
@inline
function goTheirWay(
  least: u32,
  lift: u32,
  column: usize,
  from: usize,
  to: usize,
  spare: usize,
  byLevel: bool,
): void {
  let right = from;
  let left = spare;
  for (let at = from; at < to; at += 4) {
    const i = load<u32>(at);
    const goes = goesRight(load<u16>(column + (<usize>i << 1)), least, lift, byLevel);
    store<u32>(right, i);
    right += <usize>goes << 2;
    store<u32>(left, i);
    left += <usize>(goes ^ 1) << 2;
  }
  ownRight = right;
  ownLeft = left;
}

// @ts-ignore: decorator
@inline
function goesRight(code: u32, least: u32, lift: u32, byLevel: bool): u32 {
  if (!byLevel) return <u32>(((code + lift) & 0xffff) >= least);
  return code == 0xffff ? 1 - lift : 1 - <u32>load<u8>(<usize>(least + code));
}

/** Which alternatives of a kind lead a patient to the right. */
// @ts-ignore: decorator
@inline
function rightsOf(
  block: usize,
  i: usize,
  bytes: u32,
  least: u32,
  lift: u32,
  byLevel: bool,
): u32 {
  const from = block + i * <usize>bytes;
  let rights: u32 = 0;
  if (byLevel) {
    for (let at: u32 = 0; at < bytes; at += 2)
      rights |= goesRight(load<u16>(from + <usize>at), least, lift, true) << (at >> 1);
    return rights;
  }
  for (let at: u32 = 0; at < bytes; at += 16) {
    const eight = i16x8.add(v128.load(from + <usize>at), i16x8.splat(<i16>lift));
    rights |= <u32>i16x8.bitmask(i16x8.ge_u(eight, i16x8.splat(<i16>least))) << (at >> 1);
  }
  return rights;
}

/** What those say more who arrived elsewhere than their patients. */
function addArrived(place: usize): void {
  const from = more + place;
  for (let at = arrived; at < arrivedEnd; at += 12) {
    const who = load<u32>(at);
    let bits = load<u32>(at, 4);
    const leaf = load<u32>(at, 8);
    const i = <usize>(who & 0xffff);
    const own = load<u32>(said + (i << 2));
    const kind = kinds + (<usize>(who >> 16) << 4);
    let to = from + i * moreStep + <usize>load<u32>(kind, 4) * step;
    if (step == 8) {
      // Two at a time and the whole kind, whether they arrived or not: which do is guessed wrong too often.
      const value = f64x2.splat(load<f64>(<usize>leaf) - load<f64>(<usize>own));
      for (let pairs = load<u32>(kind, 12); pairs != 0; pairs--, bits >>= 2, to += 16) {
        const two = i64x2(1, 2);
        const came = i64x2.eq(v128.and(i64x2.splat(bits), two), two);
        v128.store(to, f64x2.add(v128.load(to), v128.and(value, came)));
      }
    } else for (; bits != 0; bits &= bits - 1) addTo(to + <usize>ctz(bits) * step, leaf, own);
  }
}

/** Adds the numbers of a leaf, less those of another where there is one. */
// @ts-ignore: decorator
@inline
function addTo(to: usize, leaf: u32, less: u32): void {
  for (let k: usize = 0; k < width; k += 8) {
    let value = load<f64>(<usize>leaf + k);
    if (less != 0) value -= load<f64>(<usize>less + k);
    store<f64>(to + k, load<f64>(to + k) + value);
  }
}
