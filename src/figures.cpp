#include "figures.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdio>
#include <cstdlib>

namespace fairlattice {

namespace {

std::string printed(const char* format, int digits, double x) {
  char usual[64];
  const int size = std::snprintf(usual, sizeof usual, format, digits, x);
  std::string text(usual, std::min<std::size_t>(size, sizeof usual - 1));
  if (text.size() < static_cast<std::size_t>(size)) {
    text.resize(size + 1);
    std::snprintf(&text[0], text.size(), format, digits, x);
    text.pop_back();
  }
  if (text[0] == '-' && text.find_first_of("123456789") == std::string::npos) text.erase(0, 1);
  return text;
}

// So many significant digits, as %g writes them, and the value of such a text. Libraries of C++
// that have these write and read several times as fast as C's.
#ifdef __cpp_lib_to_chars
char* significant(char* from, char* to, double x, int digits) {
  return std::to_chars(from, to, x, std::chars_format::general, digits).ptr;
}

double value_of(const char* from, const char* to) {
  double x = 0;
  std::from_chars(from, to, x);
  return x;
}
#else
char* significant(char* from, char* to, double x, int digits) {
  return from + std::snprintf(from, to - from, "%.*g", digits, x);
}

double value_of(const char* from, const char*) { return std::strtod(from, nullptr); }
#endif

std::string infinite(double x) { return x > 0 ? "infinite" : "-infinite"; }

}  // namespace

std::string count_text(double x, int digits) {
  if (std::isnan(x)) return "";
  if (std::isinf(x)) return infinite(x);
  std::string text = printed("%.*f", digits, x);
  const int first = text[0] == '-';
  int end = static_cast<int>(text.find('.'));
  if (end < 0) end = text.size();
  for (int at = end - 3; at > first; at -= 3) text.insert(at, 1, ',');
  return text;
}

std::string number_text(double x, int digits) {
  if (std::isnan(x)) return "undefined";
  if (std::isinf(x)) return infinite(x);
  return std::fabs(x) < 1e6 ? printed("%.*f", digits, x) : printed("%.*g", 4, x);
}

std::string whole_text(double x) {
  char text[40];
  if (std::fabs(x) < 1e15 && x == std::floor(x) && !(x == 0 && std::signbit(x))) {
    std::snprintf(text, sizeof text, "%lld", static_cast<long long>(x));
    return text;
  }
  char* end = significant(text, text + sizeof text, x, 15);
  if (value_of(text, end) != x) end = significant(text, text + sizeof text, x, 17);
  return std::string(text, end);
}

}  // namespace fairlattice
