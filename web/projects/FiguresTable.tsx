import styled from 'styled-components';

/** A wide table of surfaces with their figures. */
export const FiguresTable = styled.table`
  width: 100%;
  font-size: 12px;
  table-layout: fixed;
  th {
    text-align: left;
    font-weight: 400;
    color: ${({ theme }) => theme.quiet};
    padding: 4px 12px 4px 0;
    border-bottom: 1px solid ${({ theme }) => theme.ink};
    vertical-align: bottom;
  }
  .figure {
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
`;
