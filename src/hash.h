// What tables of hashes share.
#pragma once
#include <cstdint>

namespace fairlattice {

inline std::uint64_t mixed(std::uint64_t x) {
  x ^= x >> 32;
  x *= 0xd6e8feb86659fd93ull;
  x ^= x >> 32;
  x *= 0xd6e8feb86659fd93ull;
  return x ^ (x >> 32);
}

// Brings memory near before it is needed.
inline void ahead(const void* memory) {
#if defined(__GNUC__)
  __builtin_prefetch(memory);
#else
  (void)memory;
#endif
}

}  // namespace fairlattice
