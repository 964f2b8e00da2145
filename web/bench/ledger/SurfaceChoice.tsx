import { useParams } from 'react-router';
import { printLength } from '@jossel/core/units';
import { api } from '../../app/api';
import { useAppSelector } from '../../app/store';
import { Choice } from '../../controls/choice';

const TYPED = 'typed';

/** Takes the size of a surface that the finish lies on; nothing where it lies on none. */
export function SurfaceChoice({
  sizeMm,
  onChange,
}: {
  sizeMm: { width: number; height: number };
  onChange: (sizeMm: { width: number; height: number }) => void;
}) {
  const { id } = useParams();
  const { data } = api.useSurfacesOfQuery(id!, { skip: !id });
  const units = useAppSelector((s) => s.settings.units);
  if (!data || data.items.length === 0) return null;
  const chosen = data.items.find((s) => s.widthMm === sizeMm.width && s.heightMm === sizeMm.height);
  return (
    <Choice
      label="Size of a surface"
      value={chosen?.id ?? TYPED}
      options={[
        { value: TYPED, name: 'as typed' },
        ...data.items.map((s) => ({
          value: s.id,
          name: `${s.project}, ${s.room}, ${s.name}: ${printLength(s.widthMm, units)} × ${printLength(s.heightMm, units)}`,
        })),
      ]}
      onChange={(value) => {
        const surface = data.items.find((s) => s.id === value);
        if (surface) onChange({ width: surface.widthMm, height: surface.heightMm });
      }}
    />
  );
}
