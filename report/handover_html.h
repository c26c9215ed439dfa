// SPDX-License-Identifier: GPL-3.0-or-later
// The handover sheet as HTML.
#pragma once

#include <string>

#include "core/job/job.h"
#include "core/machine/model/knowledge.h"
#include "core/shop/advice.h"

namespace eh {

// For the customer: what was found in words and the numbers that show it, what was done, what is proven,
// advice and terms. For the next technician: every reading, every step of the proof, how the work was done.
enum class SheetLength { customer, technician };

struct SheetOptions {
    std::string shop;  // name on top of the sheet
    std::string logo;  // address of its picture, see logo_picture(); may be empty
    SheetLength length = SheetLength::customer;
    const std::vector<AdviceRule>* rules =
        nullptr;  // advice that follows from the fault, where none is written
};

// A complete HTML document in the simple subset that both browsers and Qt's rich text show. All text is
// escaped. Works for unfinished jobs: what is missing is said. Needs a QGuiApplication for the small traces.
std::string handover_html(const Job& job, const Knowledge& knowledge, const SheetOptions& options = {});

}  // namespace eh
