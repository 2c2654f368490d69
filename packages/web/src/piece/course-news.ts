import { useEffect, useRef } from 'react';

/** A change on the course within so long after a choice is attributed to it, ms. */
const BELONGS_MS = 3000;
const MOVES_MS = 700;

let until = 0;

/** Something was chosen elsewhere that changes what is decided: the course shows by a short movement what. */
export function showOnCourse(): void {
  until = performance.now() + BELONGS_MS;
}

/**
 * A stone whose words change soon after something was chosen moves: its stone sinks and comes up, its words
 * rise.
 */
export function useCourseNews() {
  const list = useRef<HTMLOListElement>(null);
  useEffect(() => {
    const course = list.current;
    if (!course) return;
    const observer = new MutationObserver((changes) => {
      if (performance.now() > until) return;
      const values = changes.map(({ target }) =>
        (target instanceof Element ? target : target.parentElement)?.closest('[data-stone-value]'),
      );
      for (const value of new Set(values)) if (value) move(value as HTMLElement);
    });
    observer.observe(course, { subtree: true, childList: true, characterData: true });
    return () => observer.disconnect();
  }, []);
  return list;
}

function move(value: HTMLElement): void {
  const isStill = matchMedia('(prefers-reduced-motion: reduce)').matches;
  const lit = { background: 'var(--lily-wash)', color: 'var(--deep)' };
  const frames: Keyframe[] = isStill
    ? [lit, { ...lit, offset: 0.8 }, {}]
    : [
        { ...lit, transform: 'translateY(9px)', opacity: 0 },
        { ...lit, transform: 'translateY(-2px)', opacity: 1, offset: 0.45 },
        { ...lit, transform: 'none', offset: 0.7 },
        {},
      ];
  value.animate(frames, { duration: isStill ? 2 * MOVES_MS : MOVES_MS, easing: 'ease-out' });
}
