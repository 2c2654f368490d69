import { Link } from 'react-router';
import { STONES } from '../stones/index.js';
import { useCourseNews } from './course-news.js';
import classes from './workspace.module.css';
import { useWorkspace } from './workspace-context.js';

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
              data-built={stone.built}
            >
              <span className={classes.stoneName}>{stone.name}</span>
              <span className={classes.stoneValue} data-stone-value>
                {stone.built ? <stone.Value /> : 'not built yet'}
              </span>
            </Link>
          </li>
        ))}
      </ol>
    </nav>
  );
}
