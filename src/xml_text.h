// Text as the content of an XML element or attribute.
#pragma once
#include <cstddef>
#include <string>

namespace fairlattice {

// Appends `text` to `out` with its signs of markup escaped. In JSON, U+FFFE and
// U+FFFF, which XML does not know, become escapes of JSON. Returns whether
// anything is other than in `text`.
bool append_xml_text(const char* text, std::size_t size, bool is_json, std::string& out);

}  // namespace fairlattice
