import { webcrypto } from 'node:crypto';
import { TextDecoder, TextEncoder } from 'node:util';
import { deserialize, serialize } from 'node:v8';

// React notes the stack of every element it makes; Jest asks for a hundred frames of it.
Error.stackTraceLimit = 10;

/** What jsdom has not: boxes have no size there, so every element is 200 × 100 pixels at the origin. */
Object.assign(globalThis, {
  TextEncoder,
  TextDecoder,
  structuredClone: (value: unknown): unknown => deserialize(serialize(value)),
  ResizeObserver: class {
    observe(): void {}
    disconnect(): void {}
  },
});
Object.defineProperty(globalThis, 'crypto', { value: webcrypto });
Element.prototype.setPointerCapture = () => {};
Element.prototype.getBoundingClientRect = () => new DOMRect(0, 0, 200, 100);
HTMLCanvasElement.prototype.getContext = () => null;
HTMLDialogElement.prototype.showModal = function showModal(this: HTMLDialogElement) {
  this.open = true;
};
HTMLDialogElement.prototype.close = function close(this: HTMLDialogElement) {
  this.open = false;
};
window.matchMedia = (query) => ({ matches: false, media: query }) as MediaQueryList;
Object.defineProperty(HTMLElement.prototype, 'clientWidth', { get: () => 200 });
