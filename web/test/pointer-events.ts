/** Browsers have pointers, jsdom has not. To be imported before what looks for them. */
class PointerEventOfTest extends MouseEvent {
  readonly pointerId: number;
  readonly pointerType = 'mouse';
  constructor(type: string, { pointerId = 1, ...init }: PointerEventInit = {}) {
    super(type, init);
    this.pointerId = pointerId;
  }
}
Object.assign(window, { PointerEvent: PointerEventOfTest, onpointerdown: null });
Object.assign(Element.prototype, {
  setPointerCapture: () => undefined,
  releasePointerCapture: () => undefined,
  hasPointerCapture: () => true,
});

export {};
