/**
 * Pixel kernels. Every pointer is a byte offset in the one linear memory, 16-byte aligned. A picture is interleaved RGBA,
 * float32, premultiplied, so that one pixel is one 128-bit vector; a plane is one float32 a pixel. Rows lie one after another
 * without gaps. The last two arguments of a kernel are a band of rows of its result: bands can be worked on apart, in any order
 * and by any thread, with the same bits. Four floats behind every raster must be readable.
 */
export { useScratch } from './scratch';
export { over, overInto, overPart, plus, blendLinear, copy } from './over';
export { blendEncoded } from './encoded';
export { blurRows, blurColumns, halve, double, meanHalf, meanHalfPlane, quarter, quarterPlane, fourfold } from './blur';
export { coverOutline, featherByVertex, featherOutline } from './outline';
export { growOnce, rootDifference, differenceAmount } from './matte';
export { mixByMask, addDifference, overBehind, screenLight, layHalfLight, weighedSum, brightHalf, glowingHalf, brighten } from './mix';
export { clear, leave, unite, product, largerOf, clampedLine, between, alphaOf, asAlpha, cutOut } from './planes';
export { decodeCodes, decodeMixed, decodeReduced, encodeBytes, encodeShorts } from './transfer';
export { decodeFloats, decodeMultiplied, throughTable, throughLines, throughCube } from './colour';
export { gradeMatrix, gradeCurves } from './grade';
export { warpByField, warpByHomography, averageMoved, fieldOfMap, slopeField, spreadWobble } from './warp';
export { lightDisc, spreadRipple, lightThings } from './light';
export { addNoise } from './noise';
export { grainAbout, lackingGrain } from './grain';
export { chromaDistance, certainBacking, meanBacking, ofItsHue, shadeAsNear, countSizes } from './behind';
export { excessCover, settleKey, solidOf, unmixShades } from './backing';
export { flamesOffSkin, layFlames, spreadWays } from './flames';
export { tonguesAt, pullAlong } from './pull';
export { arrivalOrder, fadingTraces, burnFront, softenFront, showGrained } from './arrival';
export { relaxMask, maskParts, halveMask, doubleMask } from './mask';
export { rootPlanes, likenessOf, cellSystem, openCells, cellContrast, lightBeside, fillCells } from './bodyCells';
export { listOpen, edgeRoots, edgeSystem, relaxEdge } from './bodyEdge';
export { lightRatios, growLight, spreadLight, lightPlanes, lightEdge } from './thrown';
export { quarterPair, seenStructure } from './structure';
export { glareOf, fallsOn, gainsOf, darkenNear, groundFall, bodySurface, litSurface } from './things';
export { litCover, skinLiquid } from './liquid';
export { rowSpans, softenDrawn } from './soften';
export { layLattice, moveFlakes, spanOf } from './air';
export { countFallen, findLiving, findShown, gatherLanes, shapeFlakes, tileRanges, countInTiles, sumStarts, sortIntoTiles, drawShapes } from './flakes';
export { drawStamps } from './stamps';
export { lightAlong } from './strokes';
export { drawArcs } from './arcs';
export { addBetween, shadeUnder, countCover, shadeCovered, rootsOnBody, brighterThanAround, squeeze } from './cells';
export { findBox, cutFigure, gatherBody, tintedFigure, layPart } from './body';
export { windowProducts, farthestFrom, windowTables } from './correlate';
export { voteStrip, steadyCodes } from './vote';
