// The tally: sums of respondents, weights and squared weights for every cell that occurs.
// Plain C++ on plain types: no R objects here. User mistakes are caught in R before this is called.
#pragma once
#include <cstddef>
#include <vector>

namespace fairlattice {

// One record a position. A null pointer means "absent": no units, one layer, weights of 1, counts
// of 1, all eligible.
struct Records {
  std::size_t size;
  const int* down;  // answer 1..down_answers; anything below 1 is "no answer" and goes to slot 0
  const int* across;
  const int* each;
  const int* unit;  // design unit 1..units
  const double* weight;
  const double* count;  // identical respondents that a record stands for
  const int* aside;     // 0: to be tallied; k > 0: set aside for reason k
  int down_answers, across_answers, each_answers, units;
};

// 32 bytes, so that a cell never straddles two cache lines.
struct Cell {
  double records, respondents, weight, weight_squared;
};

struct Tally {
  std::vector<int> unit, down, across, each;
  std::vector<Cell> cell;
};

// Cells in the order of unit, each, across, down. The answer does not depend on `threads`:
// the records are always cut into the same shards, and the shards are added in the same order.
Tally tally(const Records& records, int threads);

}  // namespace fairlattice
