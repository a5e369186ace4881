import { type PointerEvent, type RefObject, useRef } from 'react';
import { pageClock } from '../kit/time';
import { msAt, placeOf } from './axis';

/** Less than this is a click with an unsteady hand, in CSS pixels. */
const STEADY_PX = 4;

/**
 * Lets a block be dragged along the axis to another wait.
 *
 * While it is dragged only its transform changes, outside React, so that no frame waits for a render.
 */
export function useDelayDrag(
  block: RefObject<HTMLDivElement | null>,
  flag: RefObject<HTMLSpanElement | null>,
  onDelay: ((seconds: number) => void) | undefined,
) {
  const dragged = useRef(false);

  function begin(event: PointerEvent<HTMLElement>, startMs: number, waitSeconds: number) {
    const [element, label, lane] = [block.current, flag.current, block.current?.parentElement];
    if (!element || !label || !lane || !onDelay || event.button !== 0) return;
    const handle = event.currentTarget;
    const [fromX, width] = [event.clientX, lane.getBoundingClientRect().width];
    const forward = getComputedStyle(lane).direction === 'rtl' ? -1 : 1;
    const from = placeOf(startMs);
    let seconds = waitSeconds;
    dragged.current = false;
    handle.setPointerCapture(event.pointerId);

    const secondsAt = (dx: number) => {
      const ms = msAt(from + ((dx * forward) / width) * 100);
      return Math.max(0, Math.round((waitSeconds * 1000 + ms - startMs) / 1000));
    };
    const move = (moved: globalThis.PointerEvent) => {
      const dx = moved.clientX - fromX;
      if (!dragged.current && Math.abs(dx) < STEADY_PX) return;
      dragged.current = true;
      seconds = secondsAt(dx);
      element.style.transform = `translateX(${dx}px)`;
      label.hidden = false;
      label.textContent = `after ${pageClock(seconds * 1000)}`;
    };
    const end = (ended: globalThis.PointerEvent | globalThis.KeyboardEvent) => {
      handle.removeEventListener('pointermove', move);
      handle.removeEventListener('pointerup', end);
      handle.removeEventListener('pointercancel', end);
      window.removeEventListener('keydown', giveUp, true);
      element.style.transform = '';
      label.hidden = true;
      if (dragged.current && ended.type === 'pointerup' && seconds !== waitSeconds) onDelay(seconds);
    };
    const giveUp = (pressed: globalThis.KeyboardEvent) => {
      if (pressed.key !== 'Escape') return;
      pressed.stopPropagation();
      end(pressed);
    };
    handle.addEventListener('pointermove', move);
    handle.addEventListener('pointerup', end);
    handle.addEventListener('pointercancel', end);
    window.addEventListener('keydown', giveUp, true);
  }

  /** Whether the click that is just coming ends a drag; asked once. */
  function wasDragged() {
    const was = dragged.current;
    dragged.current = false;
    return was;
  }

  return { begin, wasDragged };
}
