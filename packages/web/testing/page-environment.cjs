// A page without a browser: jsdom with what the application takes for granted beside it.
/* global structuredClone, TextEncoder, TextDecoder, BroadcastChannel */
const { TestEnvironment } = require('jest-environment-jsdom');

module.exports = class PageEnvironment extends TestEnvironment {
  async setup() {
    await super.setup();
    this.global.structuredClone = structuredClone;
    this.global.TextEncoder = TextEncoder;
    this.global.TextDecoder = TextDecoder;
    // A channel that is left open keeps no test running.
    this.global.BroadcastChannel = class extends BroadcastChannel {
      constructor(name) {
        super(name);
        this.unref();
      }
    };
    this.global.crypto.randomUUID ??= () => require('node:crypto').randomUUID();
  }
};
