/**
 * What the compiled module offers; see assembly/ for units and formulas. All numbers; pictures, planes, codes and tables are byte
 * offsets in the memory. Each ends with a band of rows of its result (added by whoever runs it), in rows of pixels where not said.
 */
export interface BandKernels {
  over(front: number, back: number, out: number, width: number): void;
  overInto(front: number, back: number, opacity: number, width: number): void;
  overPart(front: number, back: number, opacity: number, out: number, width: number): void;
  plus(front: number, back: number, opacity: number, out: number, width: number): void;
  blendLinear(front: number, back: number, opacity: number, screened: boolean, out: number, width: number): void;
  blendEncoded(
    ...given: [
      mode: number,
      front: number,
      back: number,
      opacity: number,
      encode: number,
      decode: number,
      lows: number,
      shift: number,
      out: number,
      width: number,
    ]
  ): void;
  blurRows(src: number, dst: number, width: number, channels: number, taps: number, reach: number): void;
  blurColumns(src: number, dst: number, floats: number, height: number, taps: number, reach: number): void;
  rootPlanes(picture: number, gains: number, out: number, n: number, width: number): void;
  likenessOf(a: number, b: number, noise: number, structure: number, like: number, width: number, height: number): void;
  quarterPair(plate: number, clean: number, small: number, behind: number, varied: number, width: number, height: number): void;
  seenStructure(varied: number, noise: number, seen: number, width: number, height: number): void;
  cellSystem(
    ...given: [
      a: number,
      b: number,
      structure: number,
      like: number,
      surely: number,
      parts: number,
      said: number,
      weight: number,
      right: number,
      below: number,
      stride: number,
      kept: number,
      zs: number,
      width: number,
      height: number,
    ]
  ): void;
  openCells(mask: number, open: number, reach: number, width: number, height: number): void;
  cellContrast(
    ...given: [mask: number, zs: number, open: number, around: number, most: number, out: number, width: number, height: number]
  ): void;
  lightBeside(
    ...given: [a: number, b: number, mask: number, open: number, around: number, more: number, out: number, width: number, height: number]
  ): void;
  fillCells(mask: number, cells: number, out: number, width: number): void;
  /** Bands are of the list. */
  edgeRoots(picture: number, at: number, gains: number, out: number, width: number, height: number): void;
  /** Bands are of the list. */
  lightEdge(roots: number, at: number, light: number, cells: number, rows: number, width: number): void;
  /** Bands are of the list. */
  edgeSystem(
    ...given: [
      roots: number,
      clean: number,
      at: number,
      index: number,
      contrast: number,
      kept: number,
      bounds: number,
      mask: number,
      cells: number,
      parts: number,
      said: number,
      weight: number,
      right: number,
      below: number,
      u: number,
      width: number,
      height: number,
    ]
  ): void;
  glareOf(picture: number, glare: number, width: number): void;
  fallsOn(picture: number, matte: number, light: number, sums: number, width: number): void;
  gainsOf(light: number, k: number, out: number, width: number): void;
  darkenNear(...given: [gains: number, others: number, ground: number, near: number, params: number, spans: number, width: number]): void;
  /** Bands are rows from `above`. */
  groundFall(
    ...given: [
      lamps: number,
      lw: number,
      lh: number,
      faint: number,
      feet: number,
      away: number,
      flat: number,
      above: number,
      out: number,
      width: number,
    ]
  ): void;
  rowSpans(picture: number, spans: number, width: number): void;
  softenDrawn(src: number, dst: number, spans: number, width: number, height: number, taps: number, reach: number): void;
  halve(src: number, dst: number, width: number, height: number, channels: number): void;
  double(src: number, dst: number, w: number, h: number, channels: number, width: number, height: number): void;
  meanHalf(src: number, dst: number, width: number, height: number): void;
  meanHalfPlane(src: number, dst: number, width: number): void;
  quarter(src: number, dst: number, width: number, height: number): void;
  quarterPlane(src: number, dst: number, width: number, height: number): void;
  fourfold(src: number, dst: number, w: number, h: number, width: number, height: number): void;
  /** Bands of rows of the box. */
  coverOutline(sums: number, stride: number, left: number, top: number, across: number, out: number, width: number): void;
  /** Bands of rows of the box. */
  featherOutline(
    ...given: [line: number, points: number, reach: number, left: number, top: number, across: number, out: number, width: number]
  ): void;
  /** Bands of rows of the box. */
  featherByVertex(
    ...given: [
      line: number,
      points: number,
      grow: number,
      reach: number,
      left: number,
      top: number,
      across: number,
      out: number,
      width: number,
    ]
  ): void;
  growOnce(src: number, dst: number, width: number, height: number, square: boolean, shrink: boolean): void;
  rootDifference(a: number, b: number, out: number, width: number): void;
  differenceAmount(difference: number, clean: number, low: number, high: number, dropShadow: boolean, out: number, width: number): void;
  chromaDistance(
    ...given: [plate: number, blue: number, red: number, strength: number, low: number, high: number, out: number, width: number]
  ): void;
  certainBacking(plate: number, matte: number, most: number, out: number, width: number): void;
  meanBacking(soft: number, red: number, green: number, blue: number, trace: number, width: number): void;
  ofItsHue(...given: [backing: number, plate: number, darkest: number, brightest: number, hue: number, out: number, width: number]): void;
  shadeAsNear(backing: number, near: number, trace: number, width: number): void;
  excessCover(
    ...given: [
      plate: number,
      whole: number,
      wholeWidth: number,
      coarse: number,
      strongest: number,
      least: number,
      out: number,
      width: number,
    ]
  ): void;
  unmixShades(
    ...given: [
      plate: number,
      behind: number,
      behindWidth: number,
      coarse: number,
      solid: number,
      around: number,
      shades: number,
      count: number,
      params: number,
      cover: number,
      width: number,
    ]
  ): void;
  settleKey(cover: number, solid: number, around: number, outside: number, core: number, width: number): void;
  solidOf(cover: number, core: number, out: number, width: number): void;
  mixByMask(before: number, after: number, mask: number, out: number, width: number): void;
  addDifference(base: number, before: number, after: number, weight: number, out: number, width: number): void;
  overBehind(...given: [front: number, base: number, before: number, weight: number, opacity: number, out: number, width: number]): void;
  screenLight(light: number, below: number, opacity: number, out: number, width: number): void;
  layHalfLight(
    ...given: [light: number, w: number, h: number, below: number, opacity: number, added: boolean, out: number, width: number]
  ): void;
  weighedSum(a: number, b: number, weights: number, out: number, width: number): void;
  brightHalf(picture: number, within: number, level: number, out: number, width: number, height: number): void;
  glowingHalf(layer: number, out: number, width: number, height: number): void;
  clear(out: number, width: number): void;
  /** Bands are rows of the box. */
  layFlames(
    ...given: [seen: number, body: number, params: number, out: number, width: number, left: number, top: number, outWidth: number]
  ): void;
  spreadWays(
    ...given: [a: number, b: number, w: number, nowhere: number, body: number, least: number, dx: number, dy: number, width: number]
  ): void;
  tintedFigure(
    ...given: [plate: number, matte: number, wide: number, left: number, top: number, params: number, out: number, width: number]
  ): void;
  /** Bands are rows of the part. */
  layPart(
    ...given: [part: number, width: number, out: number, wide: number, left: number, top: number, light: number, cover: number]
  ): void;
  /** Bands are rows from `top`. */
  addBetween(
    ...given: [
      cells: number,
      w: number,
      h: number,
      step: number,
      amount: number,
      out: number,
      width: number,
      left: number,
      right: number,
      top: number,
      originX: number,
      originY: number,
    ]
  ): void;
  /** Bands are rows from `top`. */
  shadeUnder(
    ...given: [
      cells: number,
      w: number,
      h: number,
      step: number,
      share: number,
      out: number,
      width: number,
      left: number,
      right: number,
      top: number,
    ]
  ): void;
  /** Bands are shapes. */
  shadeCovered(...given: [shapes: number, cells: number, w: number, h: number, side: number, down: number, share: number]): void;
  rootsOnBody(picture: number, matte: number, out: number, width: number): void;
  brighterThanAround(...given: [fine: number, around: number, matte: number, out: number, sums: number, width: number]): void;
  squeeze(plane: number, deviation: number, width: number): void;
  /** Bands are rows of blocks. */
  grainAbout(
    ...given: [below: number, plate: number, most: number, energy: number, weight: number, wide: number, width: number, height: number]
  ): void;
  /** Bands are rows of blocks. */
  lackingGrain(
    ...given: [
      below: number,
      plate: number,
      soft: number,
      known: number,
      weight: number,
      deviation: number,
      mask: number,
      wide: number,
      width: number,
      height: number,
    ]
  ): void;
  brighten(picture: number, red: number, green: number, blue: number, width: number): void;
  leave(plane: number, cover: number, weight: number, out: number, width: number): void;
  unite(a: number, b: number, out: number, width: number): void;
  product(a: number, b: number, weight: number, out: number, width: number): void;
  largerOf(a: number, b: number, weight: number, out: number, width: number): void;
  clampedLine(plane: number, gain: number, offset: number, out: number, width: number): void;
  between(a: number, b: number, part: number, out: number, width: number): void;
  alphaOf(picture: number, out: number, width: number): void;
  asAlpha(plane: number, out: number, width: number): void;
  cutOut(picture: number, behind: number, matte: number, share: number, out: number, width: number): void;
  decodeCodes(codes: number, table: number, channels: number, wide: boolean, out: number, width: number): void;
  decodeMixed(a: number, b: number, table: number, channels: number, wide: boolean, part: number, out: number, width: number): void;
  decodeFloats(codes: number, channels: number, straight: boolean, out: number, width: number): void;
  decodeMultiplied(codes: number, table: number, wide: boolean, out: number, width: number): void;
  throughTable(picture: number, table: number, count: number, from: number, span: number, width: number): void;
  throughLines(picture: number, lut: number, size: number, domain: number, width: number): void;
  throughCube(picture: number, cube: number, size: number, domain: number, width: number): void;
  decodeReduced(
    ...given: [
      codes: number,
      table: number,
      channels: number,
      wide: boolean,
      width: number,
      height: number,
      factor: number,
      out: number,
      outWidth: number,
    ]
  ): void;
  encodeBytes(src: number, curve: number, channels: number, frame: number, out: number, width: number): void;
  encodeShorts(src: number, table: number, shift: number, low: number, channels: number, out: number, width: number): void;
  gradeMatrix(src: number, matrix: number, out: number, width: number): void;
  gradeCurves(
    ...given: [src: number, tables: number, tableBytes: number, shift: number, lows: number, ends: number, out: number, width: number]
  ): void;
  warpByField(src: number, dx: number, dy: number, mirror: boolean, cubic: boolean, out: number, width: number, height: number): void;
  warpByHomography(
    src: number,
    width: number,
    height: number,
    matrix: number,
    cubic: boolean,
    edge: number,
    left: number,
    top: number,
    right: number,
    bottom: number,
    out: number,
    outWidth: number,
  ): void;
  averageMoved(src: number, maps: number, out: number, width: number, height: number): void;
  slopeField(
    ...given: [
      soft: number,
      middleX: number,
      middleY: number,
      radius: number,
      k: number,
      strength: number,
      dx: number,
      dy: number,
      width: number,
      height: number,
    ]
  ): void;
  litCover(layer: number, out: number, width: number): void;
  skinLiquid(
    ...given: [layer: number, soft: number, amount: number, level: number, over: number, shine: number, width: number, height: number]
  ): void;
  fieldOfMap(matrix: number, dx: number, dy: number, width: number): void;
  spreadWobble(
    ...given: [
      gridX: number,
      gridY: number,
      columns: number,
      step: number,
      middleX: number,
      middleY: number,
      radius: number,
      strength: number,
      dx: number,
      dy: number,
      width: number,
    ]
  ): void;
  lightDisc(params: number, out: number, width: number): void;
  spreadRipple(
    ...given: [
      middleX: number,
      middleY: number,
      radius: number,
      strength: number,
      waves: number,
      moved: number,
      dx: number,
      dy: number,
      width: number,
    ]
  ): void;
  /** In place; bands of rows of the box. */
  lightThings(
    ...given: [
      picture: number,
      matte: number,
      within: number,
      outside: number,
      air: number,
      w: number,
      h: number,
      bodyLeft: number,
      bodyTop: number,
      bodyRight: number,
      bodyBottom: number,
      left: number,
      right: number,
      top: number,
      width: number,
    ]
  ): void;
  bodySurface(
    ...given: [matte: number, stands: number, shade: number, folds: number, steepest: number, out: number, width: number, height: number]
  ): void;
  litSurface(
    ...given: [
      surface: number,
      potential: number,
      facing: number,
      k: number,
      round: number,
      side: number,
      out: number,
      left: number,
      top: number,
      wide: number,
      width: number,
      height: number,
    ]
  ): void;
  addNoise(
    ...given: [
      out: number,
      left: number,
      dx: number,
      top: number,
      dy: number,
      z: number,
      seed: number,
      gain: number,
      width: number,
      stride: number,
    ]
  ): void;
  /** Bands of rows from `top`. */
  arrivalOrder(
    ...given: [
      params: number,
      low: number,
      high: number,
      cover: number,
      out: number,
      width: number,
      left: number,
      right: number,
      top: number,
    ]
  ): void;
  fadingTraces(params: number, progress: number, out: number, width: number): void;
  burnFront(
    ...given: [
      order: number,
      cover: number,
      matte: number,
      params: number,
      removal: number,
      skin: number,
      width: number,
      left: number,
      right: number,
      top: number,
      bottom: number,
    ]
  ): void;
  tonguesAt(params: number, lengths: number, leans: number, width: number): void;
  /** Bands of rows of the box. */
  flamesOffSkin(body: number, dx: number, dy: number, params: number, out: number, width: number, height: number): void;
  softenFront(
    ...given: [
      order: number,
      matte: number,
      plate: number,
      offsets: number,
      count: number,
      params: number,
      removal: number,
      skin: number,
      width: number,
      height: number,
    ]
  ): void;
  showGrained(picture: number, clean: number, mask: number, sigma: number, seed: number, out: number, width: number): void;
  /** Bands are rows from `top`. */
  drawArcs(
    ...given: [
      cells: number,
      columns: number,
      ways: number,
      wide: number,
      high: number,
      held: number,
      params: number,
      out: number,
      width: number,
      left: number,
      right: number,
      top: number,
    ]
  ): void;
  /** Bands are rows from `top`. */
  lightAlong(...given: [nodes: number, pieces: number, table: number, params: number, out: number, width: number, top: number]): void;
  /** Bands of rows of all four tables. */
  layLattice(params: number, lattice: number): void;
  /** Bands of groups of four particles. */
  moveFlakes(
    ...given: [
      params: number,
      lattice: number,
      id: number,
      x: number,
      y: number,
      vx: number,
      vy: number,
      age: number,
      stirred: number,
      weighs: number,
    ]
  ): void;
  /** Bands of groups of four particles. */
  shapeFlakes(
    ...given: [
      params: number,
      id: number,
      x: number,
      y: number,
      vx: number,
      vy: number,
      age: number,
      life: number,
      red: number,
      green: number,
      blue: number,
      shapes: number,
    ]
  ): void;
  /** Bands of lanes. */
  gatherLanes(from: number, stride: number, list: number, n: number, to: number, toStride: number): void;
  /** Bands are rows of the box. */
  cutFigure(
    ...given: [
      plate: number,
      matte: number,
      width: number,
      x0: number,
      x1: number,
      top: number,
      out: number,
      outX: number,
      outY: number,
      outWidth: number,
    ]
  ): void;
  /** Bands are rows of the box. */
  gatherBody(
    ...given: [
      order: number,
      cover: number,
      matte: number,
      plate: number,
      soft: number,
      params: number,
      removal: number,
      body: number,
      light: number,
      width: number,
    ]
  ): void;
  /** Bands of shapes. */
  tileRanges(shapes: number, ranges: number, width: number, height: number): void;
  /** Bands of parts of the picture. */
  countInTiles(ranges: number, count: number, starts: number, parts: number, width: number, height: number): void;
  /** Bands of parts of the picture. */
  sortIntoTiles(ranges: number, count: number, starts: number, entries: number, parts: number, width: number, height: number): void;
  /** Bands of rows of tiles. */
  drawShapes(
    ...given: [shapes: number, ends: number, entries: number, behind: boolean, onto: boolean, out: number, width: number, height: number]
  ): void;
  /** Bands of rows of tiles. */
  drawStamps(
    ...given: [
      shapes: number,
      stamps: number,
      ends: number,
      entries: number,
      behind: boolean,
      onto: boolean,
      out: number,
      width: number,
      height: number,
    ]
  ): void;
  /** Bands of rows of places. */
  steadyCodes(
    ...given: [
      from: number,
      wide: boolean,
      channels: number,
      width: number,
      height: number,
      fromTop: number,
      fromRows: number,
      map: number,
      gains: number,
      top: number,
      stride: number,
      out: number,
    ]
  ): void;
  voteStrip(
    ...given: [
      strip: number,
      wide: boolean,
      frames: number,
      padded: number,
      votes: number,
      columns: number,
      cells: number,
      first: number,
      side: number,
      out: number,
      width: number,
    ]
  ): void;
  windowProducts(window: number, side: number, pattern: number, rows: number, columns: number, span: number, out: number): void;
}
export type BandKernel = keyof BandKernels;
/** In an order that every thread knows: a command names a kernel by its place. */
export const bandKernels = [
  'over',
  'overInto',
  'overPart',
  'plus',
  'blendLinear',
  'blendEncoded',
  'blurRows',
  'blurColumns',
  'rootPlanes',
  'likenessOf',
  'quarterPair',
  'seenStructure',
  'cellSystem',
  'openCells',
  'cellContrast',
  'lightBeside',
  'fillCells',
  'edgeRoots',
  'lightEdge',
  'edgeSystem',
  'glareOf',
  'fallsOn',
  'gainsOf',
  'darkenNear',
  'groundFall',
  'rowSpans',
  'softenDrawn',
  'halve',
  'double',
  'meanHalf',
  'meanHalfPlane',
  'quarter',
  'quarterPlane',
  'fourfold',
  'coverOutline',
  'featherOutline',
  'featherByVertex',
  'growOnce',
  'rootDifference',
  'differenceAmount',
  'mixByMask',
  'addDifference',
  'overBehind',
  'screenLight',
  'layHalfLight',
  'weighedSum',
  'brightHalf',
  'glowingHalf',
  'clear',
  'brighten',
  'leave',
  'unite',
  'product',
  'largerOf',
  'clampedLine',
  'between',
  'alphaOf',
  'asAlpha',
  'cutOut',
  'decodeCodes',
  'decodeMixed',
  'decodeReduced',
  'decodeFloats',
  'decodeMultiplied',
  'throughTable',
  'throughLines',
  'throughCube',
  'encodeBytes',
  'encodeShorts',
  'gradeMatrix',
  'gradeCurves',
  'warpByField',
  'warpByHomography',
  'averageMoved',
  'fieldOfMap',
  'slopeField',
  'litCover',
  'skinLiquid',
  'spreadWobble',
  'lightDisc',
  'spreadRipple',
  'lightThings',
  'bodySurface',
  'litSurface',
  'addNoise',
  'grainAbout',
  'lackingGrain',
  'arrivalOrder',
  'fadingTraces',
  'burnFront',
  'softenFront',
  'chromaDistance',
  'certainBacking',
  'meanBacking',
  'ofItsHue',
  'shadeAsNear',
  'excessCover',
  'unmixShades',
  'settleKey',
  'solidOf',
  'tonguesAt',
  'flamesOffSkin',
  'layFlames',
  'spreadWays',
  'showGrained',
  'layLattice',
  'moveFlakes',
  'shapeFlakes',
  'gatherLanes',
  'tileRanges',
  'countInTiles',
  'sortIntoTiles',
  'drawShapes',
  'cutFigure',
  'tintedFigure',
  'layPart',
  'gatherBody',
  'drawStamps',
  'lightAlong',
  'drawArcs',
  'addBetween',
  'shadeUnder',
  'shadeCovered',
  'rootsOnBody',
  'brighterThanAround',
  'squeeze',
  'windowProducts',
  'voteStrip',
  'steadyCodes',
] as const satisfies readonly BandKernel[];

/** Kernels that one thread runs as a whole. */
export interface WholeKernels {
  useScratch(at: number): void;
  copy(from: number, to: number, bytes: number): void;
  farthestFrom(values: number, count: number, from: number): number;
  windowTables(...given: [grey: number, side: number, mean: number, fine: number, numbers: number, sums: number, squares: number]): void;
  pullAlong(
    ...given: [
      body: number,
      lengths: number,
      leans: number,
      reach: number,
      dx: number,
      dy: number,
      out: number,
      width: number,
      height: number,
    ]
  ): void;
  findBox(plane: number, width: number, height: number, limit: number, step: number, box: number): number;
  countCover(...given: [shapes: number, count: number, cells: number, w: number, h: number, side: number]): void;
  countFallen(
    ...given: [
      params: number,
      id: number,
      x: number,
      y: number,
      vx: number,
      vy: number,
      age: number,
      life: number,
      count: number,
      low: number,
      far: number,
    ]
  ): void;
  spanOf(lane: number, groups: number, out: number): void;
  countSizes(values: number, count: number, step: number, most: number, bins: number, counts: number): number;
  findLiving(age: number, life: number, count: number, living: number): number;
  findShown(id: number, count: number, seed: number, share: number, list: number): number;
  sumStarts(starts: number, tiles: number): number;
  relaxMask(
    ...given: [
      v: number,
      said: number,
      right: number,
      below: number,
      part: number,
      stride: number,
      width: number,
      height: number,
      over: number,
      passes: number,
    ]
  ): void;
  maskParts(...given: [weight: number, right: number, below: number, part: number, stride: number, width: number, height: number]): void;
  halveMask(
    ...given: [
      said: number,
      weight: number,
      right: number,
      below: number,
      stride: number,
      toSaid: number,
      toWeight: number,
      toRight: number,
      toBelow: number,
      toStride: number,
      width: number,
      height: number,
    ]
  ): void;
  doubleMask(half: number, halfStride: number, v: number, stride: number, width: number, height: number): void;
  lightRatios(
    ...given: [a: number, b: number, mask: number, zs: number, surely: number, within: number, ratios: number, light: number, n: number]
  ): void;
  growLight(
    ...given: [
      a: number,
      b: number,
      structure: number,
      like: number,
      parts: number,
      ratios: number,
      light: number,
      queue: number,
      width: number,
      height: number,
    ]
  ): number;
  spreadLight(light: number, found: number, rounds: number, width: number, height: number): void;
  lightPlanes(b: number, light: number, out: number, n: number): void;
  listOpen(open: number, cells: number, at: number, index: number, width: number, height: number): number;
  relaxEdge(
    ...given: [
      u: number,
      at: number,
      index: number,
      said: number,
      weight: number,
      right: number,
      below: number,
      places: number,
      links: number,
      least: number,
      over: number,
      passes: number,
      m: number,
      width: number,
      height: number,
    ]
  ): void;
}
type Banded = { [K in BandKernel]: (...given: [...Parameters<BandKernels[K]>, from: number, to: number]) => void };
export type Kernels = Banded & WholeKernels;
