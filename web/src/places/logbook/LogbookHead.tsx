/** The Logbook's three pages: runs, what was learned, trials. */
import { NavLink } from "react-router";

export function LogbookHead({ children }: { children?: React.ReactNode }) {
  return (
    <div className="flex flex-wrap gap-x-6 gap-y-2 items-baseline">
      <h1 className="text-[30px]">Logbook</h1>
      <nav aria-label="Logbook" className="flex gap-4">
        {(
          [
            ["/logbook", "Runs"],
            ["/logbook/learned", "Learned"],
            ["/logbook/trials", "Trials"],
          ] as const
        ).map(([to, name]) => (
          <NavLink
            key={to}
            end
            to={to}
            className={({ isActive }) =>
              `py-1 border-b-2 ${isActive ? "border-spruce font-semibold" : "border-transparent text-slate"}`
            }
          >
            {name}
          </NavLink>
        ))}
      </nav>
      {children}
    </div>
  );
}
