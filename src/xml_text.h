// Text as the content of an XML element or attribute.
#pragma once
#include <cstddef>
#include <string>

namespace fairlattice {

// Appends `text` to `out` with its signs of markup escaped. In JSON, U+FFFE and
// U+FFFF, which XML does not know, become escapes of JSON. Returns whether
// anything is other than in `text`.
bool append_xml_text(const char* text, std::size_t size, bool is_json, std::string& out);

// Appends a cell of a workbook's sheet to its row: "n" a number, "s" the number of a text, "f" a
// formula and "t" one that gives a text (`value` is their XML), "" a cell that only has a look.
// `letters` name its column; `style`: the number of its look, below 0 for none.
void append_sheet_cell(int row, const char* letters, char kind, const char* value, int style,
                       std::string& out);

}  // namespace fairlattice
