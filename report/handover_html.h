// The handover sheet as HTML.
#pragma once

#include <string>

#include "core/job/job.h"
#include "core/machine/knowledge.h"

namespace eh {

struct SheetOptions {
    std::string shop;  // name on top of the sheet
};

// A complete HTML document in the simple subset that both browsers and Qt's rich text show: what the customer
// said, what was found with its numbers, what was done, what is proven and what is not, advice, price,
// warranty, cautions. All text is escaped. Works for unfinished jobs: what is missing is said.
std::string handover_html(const Job& job, const Knowledge& knowledge, const SheetOptions& options = {});

}  // namespace eh
