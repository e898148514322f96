// A page for tests of components: jsdom, with what browsers have and jsdom does not.
import { TestEnvironment } from 'jest-environment-jsdom';

export default class Page extends TestEnvironment {
  async setup() {
    await super.setup();
    const { global } = this;
    Object.assign(global, { TextEncoder, TextDecoder, structuredClone, Response, Request, Headers });
    global.PointerEvent ??= class extends global.MouseEvent {
      constructor(type, given = {}) {
        super(type, given);
        this.pointerId = given.pointerId ?? 0;
      }
    };
    global.Element.prototype.setPointerCapture = () => undefined;
    global.Element.prototype.scrollIntoView = () => undefined;
    global.ResizeObserver = class {
      observe() {}
      unobserve() {}
      disconnect() {}
    };
  }
}
