// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/handover_pdf.h"

#include <QAbstractTextDocumentLayout>
#include <QMarginsF>
#include <QPageSize>
#include <QPdfWriter>
#include <QSaveFile>
#include <QTextDocument>

#include "core/base/files.h"

namespace eh {

Outcome write_pdf(const std::string& html, const std::filesystem::path& file) {
    if (auto may = may_be_written(file); !may)
        return may;
    QSaveFile target(QString::fromStdString(file.string()));
    if (!target.open(QIODevice::WriteOnly))
        return Error{
            ErrorKind::unavailable,
            "the PDF cannot be written: " + target.errorString().toStdString() + "; choose another folder",
            file.string()};
    {
        constexpr int dots_per_inch = 150;
        constexpr double margin_mm = 15.0;
        QPdfWriter writer(&target);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageMargins(QMarginsF(margin_mm, margin_mm, margin_mm, margin_mm), QPageLayout::Millimeter);
        writer.setResolution(dots_per_inch);
        writer.setTitle("Handover sheet");
        QTextDocument document;
        document.documentLayout()->setPaintDevice(&writer);
        document.setHtml(QString::fromStdString(html));
        document.setPageSize(writer.pageLayout().paintRectPixels(dots_per_inch).size());
        document.print(&writer);
    }
    if (!target.commit())
        return Error{ErrorKind::unavailable,
                     "the PDF could not be completed: " + target.errorString().toStdString(), file.string()};
    return Done{};
}

}  // namespace eh
