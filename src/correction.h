// p-values corrected for how many there are.
#pragma once
#include <cstddef>
#include <string>

namespace fairlattice {

enum class Correction { bonferroni, holm, benjamini_hochberg };

Correction correction_of(const std::string& name);

// In place. Bonferroni: m p; Holm (1979), step down; Benjamini and Hochberg (1995), step up. Those
// that are missing stay so and are not counted.
void correct(double* p, std::size_t size, Correction how);

}  // namespace fairlattice
