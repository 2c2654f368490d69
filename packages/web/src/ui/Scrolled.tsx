import { IconChevronDown } from '@tabler/icons-react';
import { type ReactNode, type Ref, useCallback, useEffect, useRef, useState } from 'react';
import classes from './ui.module.css';

interface ScrolledProps {
  readonly children: ReactNode;
  readonly className?: string;
  readonly listRef?: Ref<HTMLDivElement>;
}

/** How much of what is shown stays when one goes on, px. */
const OVERLAP = 60;

/**
 * Something that may be longer than its room. While more follows, its end fades and says so; a click goes on.
 */
export function Scrolled({ children, className, listRef }: ScrolledProps) {
  const inner = useRef<HTMLDivElement | null>(null);
  const [hasMore, setHasMore] = useState(false);
  const look = useCallback(() => {
    const box = inner.current;
    if (box) setHasMore(box.scrollHeight - box.scrollTop - box.clientHeight > 6);
  }, []);
  useEffect(() => {
    const box = inner.current;
    if (!box) return;
    const observer = new ResizeObserver(look);
    observer.observe(box);
    for (const child of box.children) observer.observe(child);
    // What is in it comes and goes.
    const changes = new MutationObserver(look);
    changes.observe(box, { childList: true, subtree: true });
    look();
    return () => {
      observer.disconnect();
      changes.disconnect();
    };
  }, [look]);
  const setBox = (box: HTMLDivElement | null) => {
    inner.current = box;
    if (typeof listRef === 'function') listRef(box);
    else if (listRef) listRef.current = box;
  };
  return (
    <div className={classes.scrolled} data-more={hasMore || undefined}>
      <div className={className} ref={setBox} onScroll={look}>
        {children}
      </div>
      {hasMore && (
        <button
          type="button"
          className={classes.more}
          tabIndex={-1}
          onClick={() => {
            const box = inner.current;
            box?.scrollBy({ top: box.clientHeight - OVERLAP, behavior: 'smooth' });
          }}
        >
          <IconChevronDown size={15} aria-hidden="true" /> more below
        </button>
      )}
    </div>
  );
}
