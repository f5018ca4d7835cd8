// What bytes say of themselves: the checksum that zip and gzip files carry, and how far the cells
// of a workbook's sheet reach.
#pragma once
#include <cstddef>
#include <cstdint>

namespace fairlattice {

// CRC-32 (polynomial 0xEDB88320), going on from `before` (0 at the beginning).
inline std::uint32_t crc32(std::uint32_t before, const unsigned char* bytes, std::size_t size) {
  static const struct Table {
    std::uint32_t entry[256];
    Table() {
      for (std::uint32_t n = 0; n < 256; ++n) {
        std::uint32_t c = n;
        for (int k = 0; k < 8; ++k) c = c & 1 ? 0xEDB88320u ^ (c >> 1) : c >> 1;
        entry[n] = c;
      }
    }
  } table;
  std::uint32_t c = ~before;
  for (std::size_t i = 0; i < size; ++i) c = table.entry[(c ^ bytes[i]) & 0xFF] ^ (c >> 8);
  return ~c;
}

struct Extent {
  double rows = 0, columns = 0, cells = 0;
};

// The last row and column that a cell of a sheet names (<c r="B12">, <row r="12">), and how many
// cells there are.
inline Extent sheet_extent(const unsigned char* text, std::size_t size) {
  Extent out;
  for (std::size_t i = 0; i + 4 < size; ++i) {
    if (text[i] != '<') continue;
    const bool cell =
        text[i + 1] == 'c' && (text[i + 2] == ' ' || text[i + 2] == '>' || text[i + 2] == '/');
    const bool row = text[i + 1] == 'r' && text[i + 2] == 'o' && text[i + 3] == 'w';
    if (!cell && !row) continue;
    out.cells += cell;
    for (i += 2; i + 4 < size && text[i] != '>'; ++i) {
      if (text[i] != ' ' || text[i + 1] != 'r' || text[i + 2] != '=' ||
          (text[i + 3] != '"' && text[i + 3] != '\''))
        continue;
      double column = 0, line = 0;
      for (i += 4; i < size && ((text[i] | 32) >= 'a' && (text[i] | 32) <= 'z'); ++i)
        column = 26 * column + ((text[i] | 32) - 'a' + 1);
      for (; i < size && text[i] >= '0' && text[i] <= '9'; ++i) line = 10 * line + (text[i] - '0');
      if (column > out.columns) out.columns = column;
      if (line > out.rows) out.rows = line;
    }
  }
  return out;
}

// The deepest nesting of brackets outside strings.
inline int json_depth(const char* text, std::size_t size) {
  int depth = 0, deepest = 0;
  bool quoted = false;
  for (std::size_t i = 0; i < size; ++i) {
    const char c = text[i];
    if (quoted) {
      if (c == '\\')
        ++i;
      else if (c == '"')
        quoted = false;
    } else if (c == '"') {
      quoted = true;
    } else if (c == '[' || c == '{') {
      deepest = ++depth > deepest ? depth : deepest;
    } else if (c == ']' || c == '}') {
      --depth;
    }
  }
  return deepest;
}

}  // namespace fairlattice
