#include "json_text.h"

#include <cmath>
#include <cstdio>

#include "figures.h"

namespace fairlattice {

void JsonText::text(const char* from, std::size_t size) {
  next();
  quoted(from, size);
}

void JsonText::number(double x) {
  next();
  out_ += std::isfinite(x) ? whole_text(x) : "null";
}

void JsonText::bare(const char* word) {
  next();
  out_ += word;
}

void JsonText::open(char bracket, bool tall) {
  next();
  out_ += bracket;
  levels_.push_back({bracket, tall, false});
}

void JsonText::key(const char* from, std::size_t size) {
  next();
  quoted(from, size);
  out_ += ": ";
  keyed_ = true;
}

void JsonText::close() {
  const Level level = levels_.back();
  levels_.pop_back();
  if (level.tall && level.any) line();
  out_ += level.bracket == '[' ? ']' : '}';
}

void JsonText::next() {
  if (keyed_) {
    keyed_ = false;
    return;
  }
  if (levels_.empty()) return;
  Level& level = levels_.back();
  if (level.any) out_ += level.tall ? "," : ", ";
  level.any = true;
  if (level.tall) line();
}

void JsonText::quoted(const char* from, std::size_t size) {
  out_ += '"';
  const char* const end = from + size;
  while (from < end) {
    const char* plain = from;
    while (plain < end && *plain != '"' && *plain != '\\' &&
           static_cast<unsigned char>(*plain) >= 0x20)
      ++plain;
    out_.append(from, plain - from);
    from = plain;
    if (from == end) break;
    const char c = *from++;
    switch (c) {
      case '"':
      case '\\':
        out_ += '\\';
        out_ += c;
        break;
      case '\n':
        out_ += "\\n";
        break;
      case '\t':
        out_ += "\\t";
        break;
      case '\r':
        out_ += "\\r";
        break;
      default: {
        char code[8];
        std::snprintf(code, sizeof code, "\\u%04x", static_cast<unsigned char>(c));
        out_ += code;
      }
    }
  }
  out_ += '"';
}

bool valid_utf8(const char* from, std::size_t size) {
  const auto* p = reinterpret_cast<const unsigned char*>(from);
  const auto* const end = p + size;
  while (p < end) {
    const unsigned char c = *p++;
    if (c < 0x80) continue;
    const int more = c >= 0xf0 ? 3 : c >= 0xe0 ? 2 : 1;
    if (c < 0xc2 || c > 0xf4 || end - p < more) return false;
    // no surrogates, nothing beyond the last plane, no longer way than need be
    const unsigned char least = c == 0xe0 ? 0xa0 : c == 0xf0 ? 0x90 : 0x80;
    const unsigned char most = c == 0xed ? 0x9f : c == 0xf4 ? 0x8f : 0xbf;
    if (p[0] < least || p[0] > most) return false;
    for (int k = 1; k < more; ++k)
      if (p[k] < 0x80 || p[k] > 0xbf) return false;
    p += more;
  }
  return true;
}

}  // namespace fairlattice
