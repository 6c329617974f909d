/** Whether the school's server answers. */
export const isReached = (): Promise<boolean> =>
  fetch("/healthz", { cache: "no-store" }).then(
    (response) => response.ok,
    () => false,
  );
