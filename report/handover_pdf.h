// SPDX-License-Identifier: GPL-3.0-or-later
// The handover sheet as PDF.
#pragma once

#include <filesystem>
#include <string>

#include "core/base/result.h"

namespace eh {

// Lays the HTML of handover_html() out on A4 pages. Needs a running QGuiApplication. The file appears only
// when it is complete; an existing one stays as it is on failure.
Outcome write_pdf(const std::string& html, const std::filesystem::path& file);

}  // namespace eh
