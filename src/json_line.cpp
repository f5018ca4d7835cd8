#include "json_line.h"

#include <cstdlib>
#include <cstring>

#if defined(__SSE2__)
#include <emmintrin.h>
#endif

namespace fairlattice {
namespace {

bool digit(char c) { return c >= '0' && c <= '9'; }
bool hex(char c) { return digit(c) || (c >= 'a' && c <= 'f') || (c >= 'A' && c <= 'F'); }

void blanks(const char*& p, const char* end) {
  while (p < end && (*p == ' ' || *p == '\t' || *p == '\r')) ++p;
}

// Over a text, from behind its opening quote to behind its closing one; false when it is not one.
// `plain` says that nothing in it is written in another way.
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

bool over_digits(const char*& p, const char* end) {
  if (p == end || !digit(*p)) return false;
  while (p < end && digit(*p)) ++p;
  return true;
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

bool over_word(const char*& p, const char* end, const char* word, std::size_t size) {
  if (static_cast<std::size_t>(end - p) < size || std::memcmp(p, word, size)) return false;
  p += size;
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

// What a text says, between its quotes.
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
    append_utf8(out, code);
  }
  return out;
}

}  // namespace

JsonLine::JsonLine(const std::vector<std::string>& keys) : seen_(keys.size(), 0) {
  for (std::size_t k = 0; k < keys.size(); ++k) {
    bool plain;
    const std::string quoted = '"' + keys[k] + '"';
    const char *p = quoted.data() + 1, *end = quoted.data() + quoted.size();
    quoted_.push_back(over_text(p, end, plain) && plain && p == end ? quoted : "");
    places_.emplace(keys[k], k);
  }
}

// The place of the key at `p`, its opening quote; the one that is expected is `place`.
bool JsonLine::key_at(const char*& p, const char* end, std::size_t& place) {
  if (place < quoted_.size()) {
    const std::string& next = quoted_[place];
    if (!next.empty() && over_word(p, end, next.data(), next.size())) return true;
  }
  if (p == end || *p != '"') return false;
  const char* from = ++p;
  bool plain;
  if (!over_text(p, end, plain)) return false;
  const auto found =
      places_.find(plain ? std::string(from, p - 1 - from) : unescaped(from, p - 1));
  if (found == places_.end()) return false;
  place = found->second;
  return true;
}

JsonLine::Is JsonLine::read(const char* p, const char* end, TextCell* cells) {
  blanks(p, end);
  if (p == end) return Is::blank;
  if (*p++ != '{') return Is::fault;
  ++line_;
  std::size_t met = 0, place = 0;
  blanks(p, end);
  for (bool more = p < end && *p != '}'; more;) {
    if (!key_at(p, end, place)) return Is::fault;
    blanks(p, end);
    if (p == end || *p++ != ':') return Is::fault;
    blanks(p, end);
    if (p == end) return Is::fault;
    TextCell cell = {p, 0};
    bool plain;
    const bool good = *p == '"'                ? over_text(++p, end, plain)
                      : *p == 't'              ? over_word(p, end, "true", 4)
                      : *p == 'f'              ? over_word(p, end, "false", 5)
                      : *p == 'n'              ? over_word(p, end, "null", 4)
                                               : over_number(p, end);
    if (!good) return Is::fault;
    if (*cell.from != 'n') cell.size = static_cast<std::size_t>(p - cell.from);
    if (seen_[place] != line_) {
      seen_[place] = line_;
      cells[place] = cell;
      ++met;
    }
    ++place;
    blanks(p, end);
    if (p == end) return Is::fault;
    more = *p == ',';
    if (more) {
      ++p;
      blanks(p, end);
    }
  }
  if (p == end || *p++ != '}') return Is::fault;
  blanks(p, end);
  if (p != end) return Is::fault;
  if (met < seen_.size())
    for (std::size_t k = 0; k < seen_.size(); ++k)
      if (seen_[k] != line_) cells[k] = {end, 0};
  return Is::record;
}

}  // namespace fairlattice
