#include "xml_text.h"

#include <cstring>

namespace fairlattice {
namespace {

const char* escape_of(char sign) {
  switch (sign) {
    case '&':
      return "&amp;";
    case '<':
      return "&lt;";
    case '>':
      return "&gt;";
    case '"':
      return "&quot;";
  }
  return nullptr;
}

}  // namespace

bool append_xml_text(const char* text, std::size_t size, bool is_json, std::string& out) {
  bool changed = false;
  const char* const end = text + size;
  const char* plain = text;  // where what is taken as it is begins
  for (const char* at = text; at < end; ++at) {
    const char* escape = escape_of(*at);
    std::size_t length = 1;
    if (is_json && end - at > 2 && std::memcmp(at, "\xef\xbf", 2) == 0 &&
        (at[2] == '\xbe' || at[2] == '\xbf')) {
      escape = at[2] == '\xbe' ? "\\ufffe" : "\\uffff";
      length = 3;
    }
    if (escape == nullptr) continue;
    changed = true;
    out.append(plain, at - plain);
    out += escape;
    at += length - 1;
    plain = at + 1;
  }
  out.append(plain, end - plain);
  return changed;
}

void append_sheet_cell(int row, const char* letters, char kind, const char* value, int style,
                       std::string& out) {
  out += "<c r=\"";
  out += letters;
  out += std::to_string(row);
  out += '"';
  if (style >= 0) {
    out += " s=\"";
    out += std::to_string(style);
    out += '"';
  }
  if (kind == '\0') {
    out += "/>";
    return;
  }
  if (kind == 's') out += " t=\"s\"";
  if (kind == 't') out += " t=\"str\"";
  const bool bare = kind == 'n' || kind == 's';
  out += bare ? "><v>" : ">";
  out += value;
  out += bare ? "</v></c>" : "</c>";
}

}  // namespace fairlattice
