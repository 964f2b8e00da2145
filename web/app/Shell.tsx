import { useEffect } from 'react';
import { Link, NavLink, Outlet, useLocation } from 'react-router';
import styled from 'styled-components';
import { OneOf } from '../controls/basics';
import { useFind } from './find';
import { prefetchPlaces } from './places';
import { settingsSlice } from './settings-slice';
import { useAppDispatch, useAppSelector } from './store';

const Frame = styled.div`
  display: grid;
  grid-template-rows: 44px auto minmax(0, 1fr);
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

const Away = styled.p`
  padding: 5px 16px;
  background: ${({ theme }) => theme.field};
  border-bottom: 1px solid ${({ theme }) => theme.strong};
  border-left: 4px solid ${({ theme }) => theme.mark};
`;

const PLACES = [
  ['/rack', 'Rack'],
  ['/receiving', 'Receiving'],
  ['/projects', 'Projects'],
  ['/handovers', 'Handovers'],
  ['/display', 'Display'],
] as const;

const PREFETCH_AFTER_MS = 2500;

/** The frame around every place. */
export function Shell() {
  const units = useAppSelector((s) => s.settings.units);
  const dispatch = useAppDispatch();
  const away = useAppSelector((s) => s.connection.away);
  const find = useFind();
  // Once the first place stands, the others are fetched, so that they are there even without the server.
  useEffect(() => {
    const timer = setTimeout(() => void prefetchPlaces(), PREFETCH_AFTER_MS);
    return () => clearTimeout(timer);
  }, []);
  const { pathname } = useLocation();
  useEffect(() => {
    // A finish and a project name their tabs themselves.
    if (/^\/(bench|projects)\/./.test(pathname)) return;
    const place = PLACES.find(([path]) => pathname.startsWith(path))?.[1];
    document.title = place ? `${place} · Jossel` : 'Jossel';
  }, [pathname]);
  return (
    <Frame>
      <Bar>
        <Link to="/rack" style={{ textDecoration: 'none', color: 'inherit' }}>
          <strong>Jossel</strong>
        </Link>
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
            find.go();
          }}
        >
          <input
            type="search"
            aria-label="Find a finish"
            placeholder="find a finish"
            value={find.words}
            onChange={(e) => find.type(e.target.value)}
          />
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
      {away ? (
        <Away role="status">
          Jossel’s server does not answer. What you made stays in this window; it is saved when the server is
          back.
        </Away>
      ) : (
        <span />
      )}
      <Outlet />
    </Frame>
  );
}
