// Tables with fixed margins: the exact conditional test and its Monte Carlo form.
// Plain C++ on plain types. A table n_ij has probability prod(row!) prod(column!) / (n!
// prod(n_ij!)), so tables are put in order by S = sum log(n_ij!): a table is no more probable than
// the observed one when its S is no smaller (up to a relative 1e-7).
#pragma once
#include <cstdint>
#include <functional>
#include <vector>

namespace fairlattice {

struct Margins {
  std::vector<int> rows, columns;
  double observed;  // S of the observed table
};

struct ExactResult {
  double p;
  bool finished;  // false: the budget of steps or bytes ran out
  double steps;
};

// Asked now and then, on the caller's own thread, with the share of the work (or of the budget)
// that is done: may it go on?
using Going = std::function<bool(double)>;

ExactResult exact_test(const Margins& margins, double most_steps, double most_bytes, int threads,
                       const Going& going);

// How many of the random tables in chunks first..last-1 are no more probable than the
// observed one. A chunk has its own stream of random numbers, so the answer depends on the
// seed alone, never on threads.
const int kChunk = 1000;
std::uint64_t count_random(const Margins& margins, std::uint64_t seed, int first, int last,
                           int threads);

// One random table, column by column within rows; for tests of the generator.
std::vector<int> random_table(const Margins& margins, std::uint64_t seed, int number);

}  // namespace fairlattice
