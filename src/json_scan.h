// What JSON (RFC 8259) is made of: each function goes over one thing, from `p`, and says false
// where it is not there. Plain C++ on plain types.
#pragma once
#include <cstddef>
#include <string>

namespace fairlattice {

// Over a text, from behind its opening quote to behind its closing one. `plain` says that nothing
// in it is written in another way.
bool over_text(const char*& p, const char* end, bool& plain);
bool over_number(const char*& p, const char* end);
bool over_word(const char*& p, const char* end, const char* word, std::size_t size);

// What a text says, between its quotes; half of a surrogate pair is U+FFFD.
std::string unescaped(const char* p, const char* end);

}  // namespace fairlattice
