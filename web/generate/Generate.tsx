import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import styled from 'styled-components';
import { Button as Plain } from 'react-aria-components';
import { familyOf, GENERATED_FAMILIES, GROUPS } from '@jossel/core/generate';
import { categoryOfKind } from '@jossel/core/finish';
import { api } from '../app/api';
import { Fault } from '../app/Fault';
import { useAppDispatch, useAppSelector } from '../app/store';
import { benchSlice } from '../bench/bench-slice';
import { OneOf, Page, PageHead, Quiet } from '../controls/basics';
import { scaleOptions } from '../controls/drawing-scales';
import { drawnKind } from './draw-kinds';

const Groups = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 22px 34px;
  margin-top: 18px;
  h2 {
    font-size: 13px;
    margin: 0 0 8px;
  }
`;
const Shelf = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 18px;
`;
const Kind = styled(Plain)`
  display: grid;
  align-content: start;
  gap: 6px;
  width: 190px;
  padding: 0;
  text-align: left;
  background: none;
  border: 0;
  cursor: pointer;
  div {
    height: 150px;
    overflow: hidden;
    background: ${({ theme }) => theme.line};
    outline: 1px solid ${({ theme }) => theme.line};
  }
  canvas {
    display: block;
  }
  &[data-hovered] div,
  &[data-focus-visible] div {
    outline: 2px solid ${({ theme }) => theme.ink};
  }
`;

/** Everything a finish can be generated as, all drawn at one scale. */
export function Generate() {
  const [create, creation] = api.useCreateFinishMutation();
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const { screenPxPerMm } = useAppSelector((s) => s.settings);
  const [scale, setScale] = useState(2);
  const choose = (kind: string) =>
    void create({ name: familyOf(kind).name, category: categoryOfKind(kind), generated: { kind } })
      .unwrap()
      .then(
        (finish) => {
          dispatch(benchSlice.actions.changed({ section: 'sample' }));
          void navigate(`/bench/${finish.id}`);
        },
        () => undefined,
      );
  return (
    <Page>
      <PageHead>
        <h1>Generate a finish</h1>
        <Quiet>
          For what no picture shows: choose what it is, then give the figures that the product specifies.
        </Quiet>
        <span style={{ marginLeft: 'auto', display: 'flex', alignItems: 'center', gap: 8 }}>
          <Quiet>All drawn at</Quiet>
          <OneOf
            label="Drawing scale of all kinds"
            value={scale}
            options={scaleOptions.filter(({ value }) => value <= 10)}
            onChange={setScale}
          />
        </span>
      </PageHead>
      <Fault error={creation.error} />
      <Groups>
        {GROUPS.map((group) => (
          <section key={group} aria-label={group}>
            <h2>{group}</h2>
            <Shelf>
              {GENERATED_FAMILIES.filter((f) => f.group === group).map(({ kind, name }) => (
                <Kind key={kind} isDisabled={creation.isLoading} onPress={() => choose(kind)}>
                  <KindPicture kind={kind} pxPerMm={screenPxPerMm / scale} />
                  {name}
                </Kind>
              ))}
            </Shelf>
          </section>
        ))}
      </Groups>
    </Page>
  );
}

const SHOWN_PX = { width: 190, height: 150 };

/** A part of a kind as it is at first, at a scale. */
function KindPicture({ kind, pxPerMm }: { kind: string; pxPerMm: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    let gone = false;
    void drawnKind(kind, SHOWN_PX, pxPerMm).then((picture) => {
      if (gone || !picture || !canvas.current) return;
      canvas.current
        .getContext('2d')!
        .putImageData(new ImageData(picture.rgba, picture.widthPx, picture.heightPx), 0, 0);
    });
    return () => {
      gone = true;
    };
  }, [kind, pxPerMm]);
  return (
    <div aria-hidden>
      <canvas ref={canvas} {...SHOWN_PX} />
    </div>
  );
}
