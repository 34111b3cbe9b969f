// Compiled to WebAssembly by `npm run kernels`; not part of the TypeScript program.
//
// SHA-256 (FIPS 180-4) of one message. `constants` holds the 64 words of section 4.2.2 and behind
// them the eight of 5.3.3; `schedule` has room for 64 words, `state` for eight. The message may be
// written beyond its end: 72 bytes of room are needed there for the padding.

export function digest(
  message: usize,
  length: i32,
  constants: usize,
  schedule: usize,
  state: usize,
): void {
  memory.copy(state, constants + 256, 32);
  const blocks = (length + 9 + 63) >> 6;
  const end = message + <usize>length;
  memory.fill(end, 0, <usize>((blocks << 6) - length));
  store<u8>(end, 0x80);
  store<u32>(message + <usize>(blocks << 6) - 4, bswap<u32>((<u32>length) << 3));
  store<u32>(message + <usize>(blocks << 6) - 8, bswap<u32>((<u32>length) >> 29));
  for (let block = 0; block < blocks; block++)
    compress(message + ((<usize>block) << 6), constants, schedule, state);
}

function compress(block: usize, constants: usize, schedule: usize, state: usize): void {
  for (let t: usize = 0; t < 64; t += 4) store<u32>(schedule + t, bswap<u32>(load<u32>(block + t)));
  for (let t: usize = 64; t < 256; t += 4) {
    const at = schedule + t;
    const x = load<u32>(at - 60);
    const y = load<u32>(at - 8);
    const small0 = rotr<u32>(x, 7) ^ rotr<u32>(x, 18) ^ (x >> 3);
    const small1 = rotr<u32>(y, 17) ^ rotr<u32>(y, 19) ^ (y >> 10);
    store<u32>(at, load<u32>(at - 64) + small0 + load<u32>(at - 28) + small1);
  }
  let a = load<u32>(state);
  let b = load<u32>(state + 4);
  let c = load<u32>(state + 8);
  let d = load<u32>(state + 12);
  let e = load<u32>(state + 16);
  let f = load<u32>(state + 20);
  let g = load<u32>(state + 24);
  let h = load<u32>(state + 28);
  for (let t: usize = 0; t < 256; t += 4) {
    const big1 = rotr<u32>(e, 6) ^ rotr<u32>(e, 11) ^ rotr<u32>(e, 25);
    const choice = (e & f) ^ (~e & g);
    const one = h + big1 + choice + load<u32>(constants + t) + load<u32>(schedule + t);
    const big0 = rotr<u32>(a, 2) ^ rotr<u32>(a, 13) ^ rotr<u32>(a, 22);
    const majority = (a & b) ^ (a & c) ^ (b & c);
    const two = big0 + majority;
    h = g;
    g = f;
    f = e;
    e = d + one;
    d = c;
    c = b;
    b = a;
    a = one + two;
  }
  store<u32>(state, load<u32>(state) + a);
  store<u32>(state + 4, load<u32>(state + 4) + b);
  store<u32>(state + 8, load<u32>(state + 8) + c);
  store<u32>(state + 12, load<u32>(state + 12) + d);
  store<u32>(state + 16, load<u32>(state + 16) + e);
  store<u32>(state + 20, load<u32>(state + 20) + f);
  store<u32>(state + 24, load<u32>(state + 24) + g);
  store<u32>(state + 28, load<u32>(state + 28) + h);
}
