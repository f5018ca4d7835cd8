// Numbers that know why they are missing. A missing double has bits to spare: R takes any NaN whose
// low word is 1954 as NA, whatever stands in the high word. The reason's index goes there, so that
// slicing, copying and binding keep it, and arithmetic on it is missing as it should be.
#pragma once
#include <cstdint>
#include <cstring>

namespace fairlattice {

inline double missing_for(int reason) {
  const std::uint64_t bits =
      (static_cast<std::uint64_t>(0x7FF00000u | (reason & 0xFFFFF)) << 32) | 1954u;
  double value;
  std::memcpy(&value, &bits, sizeof value);
  return value;
}

// The reason's index, or 0 for a plain NA. The quiet bit, which arithmetic may set, is no
// part of the index.
inline int reason_of(double value) {
  std::uint64_t bits;
  std::memcpy(&bits, &value, sizeof bits);
  return static_cast<int>((bits >> 32) & 0x7FFFFu);
}

}  // namespace fairlattice
