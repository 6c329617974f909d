import { type InvalidateOptions, type InvalidateQueryFilters, QueryClient } from "@tanstack/react-query";

/**
 * Asks again for what a change made old, also where the first answer is still under way. The library lets such an answer
 * finish and takes it for new, though it may have been made before the change: a page would then show what stood before
 * until it is opened again.
 */
export class FreshClient extends QueryClient {
  override async invalidateQueries(
    filters: InvalidateQueryFilters = {},
    options: InvalidateOptions = {},
  ): Promise<void> {
    const begun = this.getQueryCache()
      .findAll({ ...filters, fetchStatus: "fetching" } as InvalidateQueryFilters)
      .filter((query) => query.state.data === undefined && query.getObserversCount() > 0);
    await Promise.all(begun.map((query) => query.cancel({ revert: true, silent: true })));
    await super.invalidateQueries(filters, options);
  }
}
