// The sums of many tables from one pass over the records.
// Plain C++ on plain types: no R objects here.
#pragma once
#include <cstddef>
#include <vector>

#include "tally.h"

namespace fairlattice {

// The questions of one table, by their place in `Many::codes`; -1 where there is
// none: everybody answers alike.
struct Asked {
  int down, across, each;
};

// Records as in `Records`, with the codes of every question and how many answers it has.
struct Many {
  std::size_t size;
  std::vector<const int*> codes;
  std::vector<int> answers;
  const int* unit;
  const double* weight;
  const double* count;
  const int* aside;
  int units;
};

// A tally for every table, its cells in the order of unit, each, across, down. Within a cell
// records are added in their own order, so that the sums do not depend on the number of threads,
// nor on which other tables are asked for.
std::vector<Tally> tally_many(const Many& records, const std::vector<Asked>& asked, int threads);

}  // namespace fairlattice
