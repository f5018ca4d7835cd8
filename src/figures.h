// How a figure is written.
#pragma once
#include <string>

namespace fairlattice {

// With so many decimals, never "-0.00"; with a comma between thousands where asked: "1,234.5".
std::string fixed_text(double x, int digits, bool thousands);

}  // namespace fairlattice
