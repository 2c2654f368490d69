import { Link } from 'react-router';
import { useCourseNews } from '../piece/course-news.js';
import { useWorkspace } from '../piece/workspace-context.js';
import { STONES } from '../stones/index.js';
import classes from './workspace.module.css';

/** The seven stepping stones, each with what is decided there. */
export function Course({ current }: { current: string }) {
  const { pieceId } = useWorkspace();
  const list = useCourseNews();
  return (
    <nav aria-label="Course">
      <ol className={classes.course} ref={list}>
        {STONES.map((stone) => (
          <li key={stone.id}>
            <Link
              to={`/pieces/${pieceId}/${stone.id}`}
              aria-current={stone.id === current ? 'step' : undefined}
            >
              <span className={classes.stoneName}>{stone.name}</span>
              <span className={classes.stoneValue} data-stone-value>
                <stone.Value />
              </span>
            </Link>
          </li>
        ))}
      </ol>
    </nav>
  );
}
