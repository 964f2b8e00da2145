import { useState } from 'react';
import styled from 'styled-components';
import { printNumber } from '@jossel/core/units';
import { sentenceOf, type Product } from '../app/api';
import { Button, Quiet, Sentence } from '../controls/basics';
import { Field, TextBox } from '../controls/fields';
import { Address } from './Address';
import { receivingApi } from './receiving-api';

const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 1px;
  background: ${({ theme }) => theme.line};
  border: 1px solid ${({ theme }) => theme.line};
  li {
    display: grid;
    grid-template-columns: 72px minmax(0, 1fr) auto;
    gap: 10px;
    padding: 7px 8px;
    align-items: center;
    background: ${({ theme }) => theme.sheet};
  }
  img {
    width: 72px;
    height: 54px;
    object-fit: cover;
    background: #919191;
    display: block;
  }
`;

/** What a sheet says, in one line. */
function sheetWords({ sheet: s }: Product): string {
  const piece =
    s.widthMm && s.heightMm
      ? `${printNumber(s.widthMm)} × ${printNumber(s.heightMm)} mm`
      : s.heightMm
        ? `${printNumber(s.heightMm)} mm wide`
        : '';
  return (
    [
      piece,
      s.jointMm ? `joint ${printNumber(s.jointMm)} mm` : '',
      s.lrv !== undefined ? `LRV ${printNumber(s.lrv)}` : s.lab ? `L* ${printNumber(s.lab[0])}` : '',
      s.glossGu !== undefined ? `${printNumber(s.glossGu)} GU` : '',
      s.permission ? '' : 'no permission given',
    ]
      .filter(Boolean)
      .join(', ') || 'the sheet gives no figures'
  );
}

/** A supplier's catalogue: swatch and data sheet are fetched together. */
export function FromSupplier() {
  const { data, error, isFetching, refetch } = receivingApi.useProductsQuery();
  const [receive, taking] = receivingApi.useReceiveProductMutation();
  const [words, setWords] = useState('');
  const [asked, setAsked] = useState('');
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  const items = (data?.items ?? []).filter((p) =>
    wanted.every((w) =>
      `${p.supplier} ${p.line} ${p.code} ${p.name} ${p.category}`.toLowerCase().includes(w),
    ),
  );
  const fault = (key: string) => (taking.error && asked === key ? sentenceOf(taking.error) : '');
  return (
    <>
      <Field>
        <label htmlFor="catalogue-words">Find in the catalogues</label>
        <TextBox
          id="catalogue-words"
          value={words}
          onChange={(e) => setWords(e.target.value)}
          placeholder="ash plank"
        />
      </Field>
      {error && (
        <>
          <Sentence>{sentenceOf(error)}</Sentence>
          <Button onPress={() => void refetch()}>Ask again</Button>
        </>
      )}
      {isFetching && !data && <Quiet role="status">Asking the supplier …</Quiet>}
      {data && items.length === 0 && <Quiet>No product has these words.</Quiet>}
      <List aria-label="Products">
        {items.map((p) => (
          <li key={p.id} aria-label={p.name}>
            <img src={`/api/suppliers/products/${p.id}/thumbnail.jpg`} alt="" loading="lazy" />
            <div style={{ minWidth: 0 }}>
              <strong>{p.name}</strong>
              <br />
              <Quiet>
                {p.supplier}, {p.line}, <span style={{ whiteSpace: 'nowrap' }}>{p.code}</span>
              </Quiet>
              <br />
              <Quiet style={{ fontSize: 12 }}>{sheetWords(p)}</Quiet>
              {fault(p.id) && <Sentence>{fault(p.id)}</Sentence>}
            </div>
            <Button
              aria-label={`Import ${p.name}`}
              isDisabled={taking.isLoading}
              onPress={() => {
                setAsked(p.id);
                void receive(p.id);
              }}
            >
              {taking.isLoading && asked === p.id ? 'Fetching …' : 'Import'}
            </Button>
          </li>
        ))}
      </List>
      <Address of="supplier" name="Address of the supplier" />
    </>
  );
}
