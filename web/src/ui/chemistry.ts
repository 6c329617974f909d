// Teaches KaTeX `\ce` and `\pu`; loaded only where a text has them.
import "katex/contrib/mhchem";
