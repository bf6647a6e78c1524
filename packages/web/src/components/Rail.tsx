import { NavLink, useNavigate, useParams } from 'react-router';
import { useShortcut } from '../app/useShortcut';

interface RailProps {
  steps: readonly { id: string; title: string }[];
}

/** The steps in the order of work. */
export function Rail({ steps }: RailProps) {
  const { studyId } = useParams();
  const navigate = useNavigate();
  useShortcut('step', (event) => void navigate(`/studies/${studyId}/${steps[Number(event.key) - 1].id}`), [studyId]);
  return (
    <nav aria-label="Steps" className="hairline-r flex w-[124px] shrink-0 flex-col justify-between py-3">
      <ol>
        {steps.map(({ id, title }, i) => (
          <li key={id}>
            <NavLink
              to={`/studies/${studyId}/${id}`}
              className={({ isActive }) =>
                `flex items-baseline gap-3 border-r-[3px] px-[18px] py-[6px] ${isActive ? 'border-base-content font-bold' : 'border-transparent text-soft hover:text-base-content'}`
              }
            >
              <span className="figures font-bold text-base-content">{i + 1}</span>
              {title}
            </NavLink>
          </li>
        ))}
      </ol>
      <NavLink to="/" className="px-[18px] py-[6px] text-soft hover:text-base-content">
        All studies
      </NavLink>
    </nav>
  );
}
