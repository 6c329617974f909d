const AT_MOST = 100;

/**
 * Resolves once the browser has drawn what the key or press at hand changed. Sending a request costs a slow processor
 * several milliseconds, and somebody who marks waits for the next answer and not for the request.
 */
export function painted(): Promise<void> {
  if (typeof requestAnimationFrame === "undefined" || document.hidden) return Promise.resolve();
  return new Promise((resolve) => {
    // A window that is covered draws nothing, and still sends.
    const waited = setTimeout(resolve, AT_MOST);
    requestAnimationFrame(() => {
      const { port1, port2 } = new MessageChannel();
      port1.onmessage = () => {
        clearTimeout(waited);
        port1.close();
        resolve();
      };
      port2.postMessage(null);
    });
  });
}
