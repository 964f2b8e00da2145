import styled from 'styled-components';

/** One part of the size: an axis, the ruler lines, the card. */
export const Block = styled.section`
  display: grid;
  gap: 8px;
  padding-bottom: 10px;
  border-bottom: 1px solid ${({ theme }) => theme.line};
  h3 {
    font-size: 13px;
    font-weight: 600;
  }
  .three {
    display: grid;
    grid-template-columns: 1fr 1fr 1fr;
    gap: 8px;
  }
  .result {
    display: flex;
    gap: 6px;
    align-items: center;
  }
  .ends {
    display: flex;
    justify-content: space-between;
    align-items: center;
  }
  table {
    width: 100%;
    font-size: 12px;
  }
  td {
    padding: 2px 0;
  }
  td + td {
    text-align: right;
  }
`;
