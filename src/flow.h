// The most that can flow through a network.
#pragma once
#include <cstddef>
#include <vector>

namespace fairlattice {

// From `source` to `sink` over `capacity`, a dense matrix of `points` by `points` down its columns,
// from row to column; no more than `enough` is looked for.
double most_flow(std::vector<double> capacity, std::size_t points, std::size_t source,
                 std::size_t sink, double enough);

}  // namespace fairlattice
