#include "json_scan.h"

#include <cstdlib>
#include <cstring>

#if defined(__SSE2__)
#include <emmintrin.h>
#endif

namespace fairlattice {
namespace {

bool digit(char c) { return c >= '0' && c <= '9'; }
bool hex(char c) { return digit(c) || (c >= 'a' && c <= 'f') || (c >= 'A' && c <= 'F'); }

bool over_digits(const char*& p, const char* end) {
  if (p == end || !digit(*p)) return false;
  while (p < end && digit(*p)) ++p;
  return true;
}

void append_utf8(std::string& to, unsigned long c) {
  const auto rest = [&](int shift) { to.push_back(static_cast<char>(0x80 | (c >> shift & 0x3f))); };
  if (c < 0x80) {
    to.push_back(static_cast<char>(c));
  } else if (c < 0x800) {
    to.push_back(static_cast<char>(0xc0 | c >> 6));
    rest(0);
  } else if (c < 0x10000) {
    to.push_back(static_cast<char>(0xe0 | c >> 12));
    rest(6);
    rest(0);
  } else {
    to.push_back(static_cast<char>(0xf0 | c >> 18));
    rest(12);
    rest(6);
    rest(0);
  }
}

}  // namespace

bool over_text(const char*& p, const char* end, bool& plain) {
  plain = true;
  for (;;) {
#if defined(__SSE2__)
    const __m128i quote = _mm_set1_epi8('"'), back = _mm_set1_epi8('\\'),
                  least = _mm_set1_epi8(0x1f);
    while (end - p >= 16) {
      const __m128i x = _mm_loadu_si128(reinterpret_cast<const __m128i*>(p));
      const __m128i control = _mm_cmpeq_epi8(_mm_min_epu8(x, least), x);
      const int hit = _mm_movemask_epi8(
          _mm_or_si128(control, _mm_or_si128(_mm_cmpeq_epi8(x, quote), _mm_cmpeq_epi8(x, back))));
      if (hit) {
        p += __builtin_ctz(static_cast<unsigned>(hit));
        break;
      }
      p += 16;
    }
#endif
    while (p < end && *p != '"' && *p != '\\' && static_cast<unsigned char>(*p) >= 0x20) ++p;
    if (p == end || static_cast<unsigned char>(*p) < 0x20) return false;
    if (*p++ == '"') return true;
    plain = false;
    if (p == end) return false;
    if (*p == 'u') {
      if (end - p < 5 || !hex(p[1]) || !hex(p[2]) || !hex(p[3]) || !hex(p[4])) return false;
      p += 5;
    } else if (std::strchr("\"\\/bfnrt", *p) && *p) {
      ++p;
    } else {
      return false;
    }
  }
}

bool over_number(const char*& p, const char* end) {
  if (p < end && *p == '-') ++p;
  if (p < end && *p == '0') {
    ++p;
  } else if (!over_digits(p, end)) {
    return false;
  }
  if (p < end && *p == '.' && !over_digits(++p, end)) return false;
  if (p < end && (*p == 'e' || *p == 'E')) {
    ++p;
    if (p < end && (*p == '+' || *p == '-')) ++p;
    return over_digits(p, end);
  }
  return true;
}

std::string unescaped(const char* p, const char* end) {
  const auto unit = [](const char* at) {
    return std::strtoul(std::string(at, 4).c_str(), nullptr, 16);
  };
  std::string out;
  while (p < end) {
    if (*p != '\\') {
      out.push_back(*p++);
      continue;
    }
    const char c = p[1];
    p += 2;
    if (c != 'u') {
      const char *from = "bfnrt", *at = std::strchr(from, c);
      out.push_back(at ? "\b\f\n\r\t"[at - from] : c);
      continue;
    }
    unsigned long code = unit(p);
    p += 4;
    if (code >= 0xd800 && code < 0xdc00 && end - p >= 6 && p[0] == '\\' && p[1] == 'u') {
      const unsigned long low = unit(p + 2);
      if (low >= 0xdc00 && low < 0xe000) {
        code = 0x10000 + ((code - 0xd800) << 10) + (low - 0xdc00);
        p += 6;
      }
    }
    if (code >= 0xd800 && code < 0xe000) code = 0xfffd;  // half of a pair
    append_utf8(out, code);
  }
  return out;
}

}  // namespace fairlattice
