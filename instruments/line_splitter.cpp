// SPDX-License-Identifier: GPL-3.0-or-later
#include "instruments/line_splitter.h"

namespace eh {

QByteArrayList LineSplitter::feed(const QByteArray& bytes) {
    QByteArrayList lines;
    qsizetype from = 0;
    while (from < bytes.size()) {
        const qsizetype end = bytes.indexOf('\n', from);
        const qsizetype stop = end < 0 ? bytes.size() : end;
        if (!skipping_) {
            if (partial_.size() + (stop - from) > longest_) {
                partial_.clear();
                skipping_ = true;
                ++overlong_lines_;
            } else {
                partial_.append(bytes.constData() + from, stop - from);
            }
        }
        if (end < 0)
            break;
        if (!skipping_) {
            if (partial_.endsWith('\r'))
                partial_.chop(1);
            lines.append(partial_);
        }
        partial_.clear();
        skipping_ = false;
        from = end + 1;
    }
    return lines;
}

void LineSplitter::reset() {
    partial_.clear();
    skipping_ = false;
}

}  // namespace eh
