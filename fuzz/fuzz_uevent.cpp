// SPDX-License-Identifier: GPL-3.0-or-later
// The machine's own report about its battery.
#include "core/base/text.h"
#include "core/battery/uevent.h"
#include "fuzz/demand.h"

extern "C" int LLVMFuzzerTestOneInput(const unsigned char* data, std::size_t size) {
    using namespace eh;
    const auto report = parse_uevent(fuzz::text_of(data, size));
    if (!report) {
        fuzz::demand(is_utf8(report.error().text()));
        return 0;
    }
    for (const std::string& remark : report->remarks)
        fuzz::demand(is_utf8(remark));
    fuzz::demand(!report->percent || (*report->percent >= 0.0 && *report->percent <= 100.0));
    for (const std::string& finding : findings(*report))
        fuzz::demand(!finding.empty());
    return 0;
}
