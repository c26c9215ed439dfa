// SPDX-License-Identifier: GPL-3.0-or-later
// Text for values, as the screens show them.
#pragma once

#include <QString>

#include "core/job/job.h"
#include "core/machine/model/machine_plan.h"
#include "core/prediction/hypothesis.h"

namespace eh::format {

inline QString qt(const std::string& text) {
    return QString::fromStdString(text);
}

// Numbers of screens: with the decimal mark that the core's sentences and the number fields show
// (core/base/text.h), so that one screen has one mark. QString::arg(double) and QLocale have their own and
// are not used. Rounded to so many decimals, or so many figures that count.
QString number(double value, int decimals);
QString figures(double value, int count);

QString percent(double probability);  // "93 %", "<1 %", ">99 %"
QString minutes(double minutes);      // "3 min", "1 h 20"
QString duration(double seconds);     // "12 s", "3 min 20 s", "1 h 20"
QString stage(JobStage stage);        // for the shelf
QString shelfName(WaitsFor waits);    // "Customer", "Follow-up"
// What the job waits for: "the customer", "a part"; of jobs for the bench what is next there.
QString waitsFor(WaitsFor waits, JobStage stage);
QString date(std::int64_t ms);      // local, "3 Dec"; with its year when it is another; "" for 0
QString dateTime(std::int64_t ms);  // local, short; "" for 0
QString workWord(Work work);        // "Replace", "Re-solder", ...
QString blockTitle(const MachinePlan& plan, const std::string& block);
// What a hypothesis says of one of its parts: "shorted", "dead; with it: Charger: gives nothing".
QString faultWords(const MachinePlan& plan, const Hypothesis& hypothesis, const std::string& block);

// How strongly a reading speaks: "strongly for", "for", "neutral", "against", "strongly against".
QString weightWords(double natural_log_weight);

}  // namespace eh::format
