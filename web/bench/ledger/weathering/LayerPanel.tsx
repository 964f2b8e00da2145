import { Dices } from 'lucide-react';
import {
  COATING_KINDS,
  CRACK_PATTERNS,
  DEPOSIT_TEXTURES,
  FLAKING_PLACES,
  PLACES,
  PLACES_BETWEEN,
  type FlakingPlace,
  type LayerOf,
  type LayerPlace,
  type Place,
  type WeatheringLayer,
} from '@jossel/core/weathering';
import { Amount, Tick } from '../../../controls/amounts';
import { Button, Quiet, Row } from '../../../controls/basics';
import { Choice } from '../../../controls/choice';
import { Field, NumberField, TextLine } from '../../../controls/fields';
import { FigureField } from '../../../controls/figure-field';
import { ColourField } from '../generated/ColourField';
import type { NamedPart } from '../parts';
import { Block } from '../size/Block';

const FLAKING_NAMES: Readonly<Record<FlakingPlace, string>> = {
  arrises: 'at arrises',
  'below-joints': 'below joints, on a wall',
  ends: 'at the ends of pieces',
};

type Change = (what: string, part: Partial<WeatheringLayer>) => void;

const PLACE_NAMES: Readonly<Record<Place, string>> = {
  everywhere: 'everywhere',
  hollows: 'in hollows',
  arrises: 'on arrises',
  faces: 'on level faces',
  ledges: 'on ledges of a wall',
  'run-off': 'where water runs down',
  foot: 'at the foot of a wall',
  top: 'below the top of a wall',
  hand: 'at hand height',
  path: 'on a traffic path',
  part: 'on a part',
};
/** Distances that a place lies between at first, mm. */
const DISTANCES: Partial<Record<Place, readonly [number, number]>> = {
  foot: [0, 350],
  top: [1500, 2400],
  hand: [900, 1400],
  path: [0, 700],
};

/** One layer: where it lies, how much of it, and what it is. */
export function LayerPanel({
  layer,
  parts,
  onChange,
  onRemove,
}: {
  layer: WeatheringLayer;
  parts: readonly NamedPart[];
  onChange: Change;
  onRemove: () => void;
}) {
  return (
    <Block aria-label={`Layer ${layer.name}`}>
      <h3>{layer.name}</h3>
      <Field>
        <label htmlFor={`${layer.id}-name`}>Name of the layer</label>
        <TextLine
          id={`${layer.id}-name`}
          value={layer.name}
          onChange={(name) => name.trim() && onChange('name', { name: name.trim() })}
        />
      </Field>
      <PlaceFields place={layer.place} parts={parts} onChange={(place) => onChange('place', { place })} />
      <Amount
        labelPx={92}
        label="Covers, %"
        value={layer.coverPercent}
        min={0}
        max={100}
        step={1}
        onChange={(coverPercent) => onChange('cover', { coverPercent })}
      />
      <Amount
        labelPx={92}
        label="Softness"
        value={layer.soft}
        min={0}
        max={1}
        step={0.05}
        onChange={(soft) => onChange('soft', { soft })}
      />
      <Row>
        <NumberField
          label="Patches apart"
          unit="mm"
          value={layer.scaleMm}
          min={0.1}
          max={5000}
          onChange={(scaleMm) => onChange('scale', { scaleMm })}
        />
        <Button onPress={() => onChange('seed', { seed: (layer.seed * 7 + 13) % 999999 })}>
          <Dices aria-hidden /> Another one
        </Button>
      </Row>
      <OwnFields layer={layer} onChange={onChange} />
      <Row style={{ justifyContent: 'space-between' }}>
        <Tick name="Leave it out" value={layer.off ?? false} onChange={(off) => onChange('off', { off })} />
        <Button onPress={onRemove}>Remove the layer</Button>
      </Row>
    </Block>
  );
}

/** Where a coating comes off before it does elsewhere. */
function FlakesFirst({ layer, onChange }: { layer: LayerOf<'coating'>; onChange: Change }) {
  const first = layer.flakesFirst ?? ['arrises'];
  return (
    <div role="group" aria-label="Flakes first">
      <Quiet>Flakes first</Quiet>
      {FLAKING_PLACES.map((place) => (
        <Tick
          key={place}
          name={FLAKING_NAMES[place]}
          value={first.includes(place)}
          onChange={(on) =>
            onChange('flaking first', {
              flakesFirst: FLAKING_PLACES.filter((p) => (p === place ? on : first.includes(p))),
            })
          }
        />
      ))}
    </div>
  );
}

function PlaceFields({
  place,
  parts,
  onChange,
}: {
  place: LayerPlace;
  parts: readonly NamedPart[];
  onChange: (place: LayerPlace) => void;
}) {
  const between = PLACES_BETWEEN.includes(place.at);
  const around = place.at === 'hollows' || place.at === 'arrises' || place.at === 'faces';
  const offered = PLACES.filter((at) => at !== 'part' || parts.length > 0 || place.at === 'part');
  const choose = (at: Place) => {
    const [fromMm, toMm] = DISTANCES[at] ?? [];
    onChange({
      at,
      reachMm: place.reachMm,
      ...(fromMm !== undefined && toMm !== undefined ? { fromMm, toMm } : {}),
      ...(at === 'part' ? { part: parts[0]!.id } : {}),
    });
  };
  return (
    <>
      <Choice
        label="Where it lies"
        value={place.at}
        options={offered.map((value) => ({ value, name: PLACE_NAMES[value] }))}
        onChange={choose}
      />
      {place.at === 'part' && (
        <Choice
          label="Part"
          value={place.part ?? null}
          options={parts.map(({ id, name }) => ({ value: id, name }))}
          onChange={(part) => onChange({ ...place, part })}
        />
      )}
      {around && (
        <NumberField
          label="Surroundings"
          unit="mm"
          value={place.reachMm}
          min={0.02}
          max={2000}
          onChange={(reachMm) => onChange({ ...place, reachMm })}
        />
      )}
      {between && (
        <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8 }}>
          <NumberField
            label={place.at === 'path' ? 'From the left edge' : 'From, above the floor'}
            unit="mm"
            value={place.fromMm ?? 0}
            min={0}
            max={Math.max(0, (place.toMm ?? 1) - 1)}
            onChange={(fromMm) => onChange({ ...place, fromMm })}
          />
          <NumberField
            label="Up to"
            unit="mm"
            value={place.toMm ?? 1}
            min={(place.fromMm ?? 0) + 1}
            max={20000}
            onChange={(toMm) => onChange({ ...place, toMm })}
          />
        </div>
      )}
    </>
  );
}

const DEGREES = ['blistering', 'cracking', 'flaking', 'chalking'] as const;
const named = <T extends string>(values: readonly T[]) =>
  values.map((value) => ({ value, name: value as string }));

function OwnFields({ layer, onChange }: { layer: WeatheringLayer; onChange: Change }) {
  switch (layer.kind) {
    case 'deposit':
      return (
        <>
          <Choice
            label="Texture"
            value={layer.texture}
            options={named(DEPOSIT_TEXTURES)}
            onChange={(texture) => onChange('texture', { texture })}
          />
          <ColourField
            label="Colour"
            value={layer.colour}
            onChange={(colour) => onChange('colour', { colour })}
          />
          <ColourField
            label="Second colour"
            value={layer.second}
            onChange={(second) => onChange('second', { second })}
          />
          <Amount
            labelPx={92}
            label="Hides, %"
            value={layer.hidesPercent}
            min={0}
            max={100}
            step={1}
            onChange={(hidesPercent) => onChange('hides', { hidesPercent })}
          />
          <FigureField
            label="Thickness"
            figure={layer.thickMm}
            unit="mm"
            min={0}
            max={50}
            onChange={(thickMm) => onChange('thickness', { thickMm })}
          />
          <Gloss layer={layer} onChange={onChange} />
        </>
      );
    case 'coating':
      return (
        <>
          <Choice
            label="Coating"
            value={layer.coat}
            options={named(COATING_KINDS)}
            onChange={(coat) => onChange('coat', { coat })}
          />
          {layer.coat !== 'clear' && (
            <ColourField
              label="Colour"
              value={layer.colour}
              onChange={(colour) => onChange('colour', { colour })}
            />
          )}
          <FigureField
            label="Dry film"
            figure={layer.filmUm}
            unit="µm"
            min={0}
            max={5000}
            onChange={(filmUm) => onChange('film', { filmUm })}
          />
          <Gloss layer={layer} onChange={onChange} />
          <div
            role="group"
            aria-label="Degrees by ISO 4628"
            style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 8 }}
          >
            {DEGREES.map((degree) => (
              <NumberField
                key={degree}
                label={`${degree[0]!.toUpperCase()}${degree.slice(1)}, 0–5`}
                unit="×"
                whole
                min={0}
                max={5}
                value={layer[degree]}
                onChange={(v) => onChange(degree, { [degree]: v })}
              />
            ))}
          </div>
          {layer.flaking > 0 && <FlakesFirst layer={layer} onChange={onChange} />}
        </>
      );
    case 'wear':
      return (
        <>
          <FigureField
            label="Depth"
            figure={layer.depthMm}
            unit="mm"
            min={0}
            max={50}
            onChange={(depthMm) => onChange('depth', { depthMm })}
          />
          <Amount
            labelPx={92}
            label="Lighter, ΔL*"
            value={layer.lighterBy}
            min={-40}
            max={40}
            step={0.5}
            onChange={(lighterBy) => onChange('lighter', { lighterBy })}
          />
          <Gloss layer={layer} onChange={onChange} />
        </>
      );
    case 'cracks':
      return (
        <>
          <Choice
            label="Pattern"
            value={layer.pattern}
            options={named(CRACK_PATTERNS)}
            onChange={(pattern) => onChange('pattern', { pattern })}
          />
          <FigureField
            label="Width"
            figure={layer.widthMm}
            unit="mm"
            min={0.01}
            max={50}
            onChange={(widthMm) => onChange('width', { widthMm })}
          />
          <FigureField
            label="Depth"
            figure={layer.depthMm}
            unit="mm"
            min={0}
            max={200}
            onChange={(depthMm) => onChange('depth', { depthMm })}
          />
        </>
      );
    case 'wet':
      return (
        <>
          <Amount
            labelPx={92}
            label="Porous, %"
            value={layer.porousPercent}
            min={0}
            max={100}
            step={1}
            onChange={(porousPercent) => onChange('porous', { porousPercent })}
          />
          <FigureField
            label="Film of water"
            figure={layer.filmUm}
            unit="µm"
            min={0}
            max={5000}
            onChange={(filmUm) => onChange('film', { filmUm })}
          />
        </>
      );
    case 'detail':
      return (
        <>
          <Amount
            labelPx={92}
            label="Colour, %"
            value={layer.colourPercent}
            min={0}
            max={100}
            step={1}
            onChange={(colourPercent) => onChange('colour', { colourPercent })}
          />
          <Amount
            labelPx={92}
            label="Gloss, %"
            value={layer.glossPercent}
            min={0}
            max={100}
            step={1}
            onChange={(glossPercent) => onChange('gloss', { glossPercent })}
          />
          <Amount
            labelPx={92}
            label="Relief, times"
            value={layer.reliefTimes}
            min={-3}
            max={3}
            step={0.1}
            onChange={(reliefTimes) => onChange('relief', { reliefTimes })}
          />
        </>
      );
  }
}

function Gloss({
  layer,
  onChange,
}: {
  layer: Extract<WeatheringLayer, { kind: 'deposit' | 'coating' | 'wear' }>;
  onChange: Change;
}) {
  return (
    <FigureField
      label="Gloss"
      figure={layer.glossGu}
      unit="GU"
      min={0}
      max={100}
      onChange={(glossGu) => onChange('gloss', { glossGu })}
    />
  );
}
