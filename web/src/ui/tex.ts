/** Where a formula stands in a text: TeX between dollar signs. */
export const TEX = /\$(?!\s)([^$]+?)(?<!\s)\$(?!\d)/g;
