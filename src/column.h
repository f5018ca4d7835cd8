// The values of a column, and what of them tells them apart. Plain C++ on plain types: no R objects
// here.
#pragma once
#include <climits>
#include <cmath>
#include <cstdint>
#include <cstring>

namespace fairlattice {

// Exactly one of the pointers is set. Texts are alike when they are the same object.
struct Column {
  const int* whole = nullptr;
  const double* number = nullptr;
  const void* const* text = nullptr;
};

inline bool is_missing(int x) { return x == INT_MIN; }
inline bool is_missing(double x) { return std::isnan(x); }

// Whether a number is whole, and one that a double holds exactly.
inline bool is_whole(int) { return true; }
inline bool is_whole(double x) { return std::fabs(x) < 9007199254740992.0 && x == std::floor(x); }

// One zero, one missing value.
inline std::uint64_t bits_of(int x) { return static_cast<std::uint32_t>(x); }
inline std::uint64_t bits_of(const void* x) { return reinterpret_cast<std::uintptr_t>(x); }
inline std::uint64_t bits_of(double x) {
  std::uint64_t bits = ~0ull;
  if (x == 0) return 0;
  if (!std::isnan(x)) std::memcpy(&bits, &x, sizeof bits);
  return bits;
}

}  // namespace fairlattice
