import { useEffect } from 'react';
import { NavLink, Outlet, useLocation, useNavigate } from 'react-router';
import styled from 'styled-components';
import { OneOf } from '../controls/basics';
import { settingsSlice } from './settings-slice';
import { useAppDispatch, useAppSelector } from './store';

const Frame = styled.div`
  display: grid;
  grid-template-rows: 44px minmax(0, 1fr);
  height: 100%;
`;
const Bar = styled.header`
  display: flex;
  align-items: center;
  gap: 22px;
  padding: 0 16px;
  background: ${({ theme }) => theme.sheet};
  border-bottom: 1px solid ${({ theme }) => theme.line};
  strong {
    font-size: 16px;
    font-weight: 680;
    letter-spacing: 0.01em;
  }
  nav {
    display: flex;
    gap: 18px;
    align-self: stretch;
  }
  nav a {
    display: flex;
    align-items: center;
    text-decoration: none;
    color: ${({ theme }) => theme.quiet};
    border-bottom: 2px solid transparent;
    border-top: 2px solid transparent;
  }
  nav a:hover {
    color: ${({ theme }) => theme.ink};
  }
  nav a[aria-current='page'] {
    color: ${({ theme }) => theme.ink};
    border-bottom-color: ${({ theme }) => theme.mark};
    font-weight: 600;
  }
  form {
    margin-left: auto;
  }
  input {
    width: 170px;
    min-height: 26px;
    padding: 0 8px;
    border: 1px solid ${({ theme }) => theme.line};
    background: ${({ theme }) => theme.field};
  }
`;

const PLACES = [
  ['/rack', 'Rack'],
  ['/receiving', 'Receiving'],
  ['/projects', 'Projects'],
  ['/handovers', 'Handovers'],
  ['/display', 'Display'],
] as const;

/** The frame around every place. */
export function Shell() {
  const units = useAppSelector((s) => s.settings.units);
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  useEffect(() => {
    const place =
      PLACES.find(([path]) => pathname.startsWith(path))?.[1] ??
      (pathname.startsWith('/bench') ? 'Bench' : '');
    document.title = place ? `${place} · Jossel` : 'Jossel';
  }, [pathname]);
  return (
    <Frame>
      <Bar>
        <strong>Jossel</strong>
        <nav aria-label="Places">
          {PLACES.map(([path, name]) => (
            <NavLink key={path} to={path}>
              {name}
            </NavLink>
          ))}
        </nav>
        <form
          role="search"
          onSubmit={(e) => {
            e.preventDefault();
            const words = String(new FormData(e.currentTarget).get('find') ?? '').trim();
            void navigate(words ? `/rack?find=${encodeURIComponent(words)}` : '/rack');
          }}
        >
          <input name="find" aria-label="Find a finish" placeholder="find a finish" />
        </form>
        <OneOf
          label="Units"
          value={units}
          options={[
            { value: 'metric', name: 'mm' },
            { value: 'imperial', name: 'in' },
          ]}
          onChange={(v) => dispatch(settingsSlice.actions.changed({ units: v }))}
        />
      </Bar>
      <Outlet />
    </Frame>
  );
}
