// What tables of hashes share.
#pragma once
#include <cstddef>
#include <cstdint>
#include <cstring>

namespace fairlattice {

inline std::uint64_t mixed(std::uint64_t x) {
  x ^= x >> 32;
  x *= 0xd6e8feb86659fd93ull;
  x ^= x >> 32;
  x *= 0xd6e8feb86659fd93ull;
  return x ^ (x >> 32);
}

inline std::uint64_t hash_of(const char* text, std::size_t size) {
  std::uint64_t hash = 0x9e3779b97f4a7c15ull * (size + 1);
  for (; size >= 8; text += 8, size -= 8) {
    std::uint64_t word;
    std::memcpy(&word, text, 8);
    hash = mixed(hash ^ word);
  }
  std::uint64_t word = 0;
  std::memcpy(&word, text, size);
  return mixed(hash ^ word);
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
