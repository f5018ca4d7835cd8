// Raw codes to places in a codebook's list of known values, in one pass. Plain C++ on plain types.
#pragma once
#include <climits>
#include <cstddef>
#include <thread>
#include <vector>

namespace fairlattice {

// For every x the place (1, 2, ...) of its value in `known`; `blank` for missing (INT_MIN); INT_MIN
// for a value that is not known. Returns how many are not known. The known values must lie within
// `most` of each other.
inline std::size_t place_codes(const int* x, std::size_t size, const int* known, int known_size,
                               int blank, int* out, int threads) {
  int least = known[0], greatest = known[0];
  for (int k = 1; k < known_size; ++k) {
    if (known[k] < least) least = known[k];
    if (known[k] > greatest) greatest = known[k];
  }
  std::vector<int> place(static_cast<std::size_t>(static_cast<long long>(greatest) - least) + 1,
                         INT_MIN);
  for (int k = known_size; k-- > 0;) place[known[k] - least] = k + 1;
  auto work = [&](std::size_t from, std::size_t to, std::size_t* unknown) {
    for (std::size_t i = from; i < to; ++i) {
      const int v = x[i];
      out[i] = v == INT_MIN ? blank : v < least || v > greatest ? INT_MIN : place[v - least];
      *unknown += v != INT_MIN && out[i] == INT_MIN;
    }
  };
  std::size_t first = 0, second = 0;
  const std::size_t middle = threads > 1 && size > 100000 ? size / 2 : size;
  std::thread half(work, middle, size, &second);
  work(0, middle, &first);
  half.join();
  return first + second;
}

}  // namespace fairlattice
