import { fireEvent } from '@testing-library/react';

/** A pointer event at a place of the element, which jsdom has no events for. */
export function pointer(target: Element, type: string, clientX: number, clientY: number, altKey = false): void {
  const event = new MouseEvent(type, { bubbles: true, clientX, clientY, altKey });
  fireEvent(target, Object.assign(event, { pointerId: 1 }));
}
