import { NavLink, useNavigate, useParams } from 'react-router';
import { useShortcut } from '../app/useShortcut';

export const steps = ['listen', 'read', 'build', 'compare', 'finish'] as const;

/** The steps in the order of work. */
export function Rail() {
  const { studyId } = useParams();
  const navigate = useNavigate();
  useShortcut('step', (event) => void navigate(`/studies/${studyId}/${steps[Number(event.key) - 1]}`), [studyId]);
  return (
    <nav aria-label="Steps" className="hairline-r flex w-[124px] shrink-0 flex-col justify-between py-3">
      <ol>
        {steps.map((step, i) => (
          <li key={step}>
            <NavLink
              to={`/studies/${studyId}/${step}`}
              className={({ isActive }) =>
                `flex items-baseline gap-3 border-r-[3px] px-[18px] py-[6px] ${isActive ? 'border-base-content font-bold' : 'border-transparent text-soft hover:text-base-content'}`
              }
            >
              <span className="figures font-bold text-base-content">{i + 1}</span>
              {step[0].toUpperCase() + step.slice(1)}
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
