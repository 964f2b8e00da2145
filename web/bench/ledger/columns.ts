import styled from 'styled-components';

/** Fields of a contribution side by side. */
export const Two = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
`;
export const Three = styled(Two)`
  grid-template-columns: 1fr 1fr 1fr;
`;
/** One of a list of settings: its fields below each other. */
export const Entry = styled.div`
  display: grid;
  gap: 8px;
`;
/** A choice with the button beside it that removes what it belongs to. */
export const WithRemove = styled.div`
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 8px;
  align-items: end;
`;
