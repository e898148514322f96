import { serveBands, type BandThread } from '@wraithos/core/image';

// Helps the drawing worker with bands of its kernels for as long as it is not ended.
self.onmessage = (event: MessageEvent<BandThread>) => serveBands(event.data);
