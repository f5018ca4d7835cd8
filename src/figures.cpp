#include "figures.h"

#include <cmath>
#include <cstdio>

namespace fairlattice {

std::string fixed_text(double x, int digits, bool thousands) {
  if (std::isinf(x)) return x > 0 ? "Inf" : "-Inf";
  std::string text(std::snprintf(nullptr, 0, "%.*f", digits, x) + 1, '\0');
  std::snprintf(&text[0], text.size(), "%.*f", digits, x);
  text.pop_back();
  if (text[0] == '-' && text.find_first_of("123456789") == std::string::npos) text.erase(0, 1);
  if (!thousands) return text;
  const int first = text[0] == '-';
  int end = static_cast<int>(text.find('.'));
  if (end < 0) end = text.size();
  for (int at = end - 3; at > first; at -= 3) text.insert(at, 1, ',');
  return text;
}

}  // namespace fairlattice
