import { type InvalidateOptions, type InvalidateQueryFilters, type Query, QueryClient } from "@tanstack/react-query";

/**
 * Asks again for what a change made old, also where the first answer is still under way. The library lets such an answer
 * finish and takes it for new, though it may have been made before the change: a page would then show what stood before
 * until it is opened again. The answer is not cancelled, since where changes come fast none would ever arrive.
 */
export class FreshClient extends QueryClient {
  #waiting = new WeakSet<Query>();

  override async invalidateQueries(
    filters: InvalidateQueryFilters = {},
    options: InvalidateOptions = {},
  ): Promise<void> {
    const begun = this.getQueryCache()
      .findAll({ ...filters, fetchStatus: "fetching" } as InvalidateQueryFilters)
      .filter((query) => query.state.data === undefined && !this.#waiting.has(query));
    for (const query of begun) this.#waiting.add(query);
    await super.invalidateQueries(filters, options);
    await Promise.all(begun.map((query) => this.#onceArrived(query)));
  }

  async #onceArrived(query: Query): Promise<void> {
    try {
      await query.promise;
    } catch {
      // A refusal is an answer; there is nothing newer to ask for.
    } finally {
      this.#waiting.delete(query);
    }
    await super.invalidateQueries({ queryKey: query.queryKey, exact: true });
  }
}
