/** Light, or the evening desk; kept on this device. `public/theme.js` reads it before the first paint. */
export function toggleTheme(): void {
  const next = document.documentElement.dataset.theme === "dark" ? "light" : "dark";
  document.documentElement.dataset.theme = next;
  localStorage.setItem("verso.theme", next);
}
