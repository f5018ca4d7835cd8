// What JSON (RFC 8259) is made of: each function goes over one thing, from `p`, and says false
// where it is not there. Plain C++ on plain types.
#pragma once
#include <cstddef>
#include <cstring>
#include <string>

namespace fairlattice {

inline void over_blanks(const char*& p, const char* end) {
  while (p < end && (*p == ' ' || *p == '\t' || *p == '\r' || *p == '\n')) ++p;
}

// Over a text, from behind its opening quote to behind its closing one. `plain` says that nothing
// in it is written in another way.
bool over_text(const char*& p, const char* end, bool& plain);
bool over_number(const char*& p, const char* end);
inline bool over_word(const char*& p, const char* end, const char* word, std::size_t size) {
  if (static_cast<std::size_t>(end - p) < size || std::memcmp(p, word, size)) return false;
  p += size;
  return true;
}

// What a text says, between its quotes; half of a surrogate pair is U+FFFD.
std::string unescaped(const char* p, const char* end);

}  // namespace fairlattice
