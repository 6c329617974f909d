// Before the first paint, so that an evening desk never flashes white.
(() => {
  const chosen = localStorage.getItem("verso.theme");
  const dark = chosen ? chosen === "dark" : matchMedia("(prefers-color-scheme: dark)").matches;
  document.documentElement.dataset.theme = dark ? "dark" : "light";
})();
