// SPDX-License-Identifier: GPL-3.0-or-later
// Cuts a byte stream into lines, whatever the stream does.
#pragma once

#include <QByteArray>
#include <QByteArrayList>

namespace eh {

class LineSplitter {
  public:
    // A line longer than `longest` bytes is thrown away up to its end and counted.
    explicit LineSplitter(qsizetype longest = 1024) : longest_(longest) {}

    // Adds bytes and returns the lines that they complete, without their ends (LF or CRLF). Memory stays
    // bounded by the longest line.
    QByteArrayList feed(const QByteArray& bytes);

    [[nodiscard]] qint64 overlong_lines() const { return overlong_lines_; }
    void reset();

  private:
    qsizetype longest_;
    QByteArray partial_;
    bool skipping_ = false;
    qint64 overlong_lines_ = 0;
};

}  // namespace eh
