import { printTime } from '@jossel/core/surface';
import { printNumber } from '@jossel/core/units';
import { api, type PackageOrder } from '../app/api';
import { Quiet, Sentence } from '../controls/basics';
import { useDebounced } from '../controls/use-debounced';

/** What a package would take of the machine that makes it, before it is ordered. Where it cannot be ordered, the order itself says why. */
export function PackageEstimate({ order }: { order: PackageOrder }) {
  const asked = useDebounced(order);
  const { currentData, isFetching } = api.useEstimateHandoverQuery(asked, {
    // How fast this machine is changes with every package.
    refetchOnMountOrArgChange: true,
  });
  if (currentData?.tooLarge) return <Sentence>{currentData.tooLarge}</Sentence>;
  return (
    <Quiet role="status">
      {currentData
        ? `About ${printTime(currentData.seconds)}, with ${printNumber(currentData.bytes / 1e9, 1)}\u2009GB of memory`
        : isFetching
          ? 'Estimating the time …'
          : ''}
    </Quiet>
  );
}
