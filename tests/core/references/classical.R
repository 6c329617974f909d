# Reference values for tests/core/test_more_measures.py:
# Rscript tests/core/references/classical.R > tests/core/references/classical.json
# R 4.2.2, psych 2.2.9, psychometric 2.3; data: raschdat1 of eRm 1.0-2 (all Debian 12).
suppressMessages({library(psych); library(psychometric); library(eRm)})
num <- function(x) paste0("[", paste(formatC(as.numeric(x), digits = 12, format = "g"), collapse = ", "), "]")
data(raschdat1); x <- as.data.frame(raschdat1)
a <- suppressWarnings(psych::alpha(x, check.keys = FALSE))
e <- item.exam(x)
cat("{\n",
  "\"alpha\":", num(a$total$raw_alpha), ",\n", "\"alpha_psychometric\":", num(psychometric::alpha(x)), ",\n",
  "\"r_raw\":", num(a$item.stats$raw.r), ",\n", "\"r_drop\":", num(a$item.stats$r.drop), ",\n",
  "\"alpha_drop\":", num(a$alpha.drop$raw_alpha), ",\n",
  "\"item_total\":", num(e$Item.total), ",\n", "\"item_rest\":", num(e$Item.Tot.woi), ",\n",
  "\"difficulty\":", num(e$Difficulty), "\n}\n")
