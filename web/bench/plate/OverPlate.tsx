import styled from 'styled-components';

/** A drawing laid over the whole view. */
export const OverPlate = styled.svg`
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  overflow: hidden;
`;
