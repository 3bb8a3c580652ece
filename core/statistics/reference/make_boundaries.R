# Reference values for boundaries and for what is said after stopping, from R instead of Vetch's own code.
#
# Run with Debian's r-cran-rpact: Rscript make_boundaries.R > boundaries.json
suppressMessages(library(rpact))

RATES <- list(
  c(0.2, 0.4, 0.6, 0.8, 1), c(0.3, 0.45, 0.7, 1), c(0.5, 1), c(0.1, 0.15, 0.9, 1),
  seq(0.1, 1, by = 0.1), c(0.6, 0.8, 0.95, 1)
)
ALPHAS <- c(0.05, 0.01, 0.1)
DRIFTS <- c(0, 1, 2, 2.8, 4)
NAMES <- c("obrien-fleming" = "asOF", "pocock" = "asP")
# z at each look of runs that stop at the last of them: at a boundary, or at the end.
STOPPED <- list(c(1.2, 3.6), c(1.2, 2.4, 2.9), c(0.5, 1.5, 2.0, 2.6), c(0.5, 1.5, 2.0, 2.0, 2.2), c(0.5, 1.5, 1.9, 1.2, 0.4), c(5.1))

# What is beyond what R counts to is null.
number <- function(x) if (is.finite(x)) format(x, digits = 10, scientific = FALSE, trim = TRUE) else "null"
list_of <- function(x) paste0("[", paste(x, collapse = ", "), "]")
numbers <- function(x) list_of(sapply(x, number))
object <- function(...) {
  fields <- c(...)
  paste0("{ ", paste0("\"", names(fields), "\": ", fields, collapse = ", "), " }")
}

designs <- unlist(lapply(names(NAMES), function(spending) unlist(lapply(ALPHAS, function(alpha) sapply(RATES, function(rates) {
  two <- getDesignGroupSequential(informationRates = rates, alpha = alpha, sided = 2, typeOfDesign = NAMES[[spending]])
  # The other side is hardly ever crossed first: the chances are those of one side.
  one <- getDesignGroupSequential(informationRates = rates, alpha = alpha / 2, sided = 1, typeOfDesign = NAMES[[spending]])
  run <- getPowerAndAverageSampleNumber(one, theta = DRIFTS, nMax = 1)
  object(
    spending = paste0("\"", spending, "\""), alpha = number(alpha), fractions = numbers(rates),
    z = numbers(two$criticalValues), drifts = numbers(DRIFTS),
    crossed = numbers(run$overallReject), share = numbers(run$averageSampleNumber)
  )
})))))

design <- getDesignGroupSequential(kMax = 5, alpha = 0.025, sided = 1, typeOfDesign = "asOF")
stopped <- sapply(STOPPED, function(z) {
  visitors <- cumsum(rep(200, length(z)))
  data <- getDataset(overallN = visitors, overallMeans = z / sqrt(visitors), overallStDevs = rep(1, length(z)))
  final <- getFinalConfidenceInterval(design, data, normalApproximation = TRUE)
  # In units of the standard error at the look that it stopped with.
  scale <- sqrt(tail(visitors, 1))
  object(z = numbers(z), estimate = number(final$medianUnbiased * scale), interval = numbers(final$finalConfidenceInterval * scale))
})

cat(
  "{\n  \"designs\": [\n    ", paste(designs, collapse = ",\n    "), "\n  ],\n  \"stopped\": [\n    ",
  paste(stopped, collapse = ",\n    "), "\n  ]\n}\n",
  sep = ""
)
