// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dialogs/data_questions.h"

#include <QMessageBox>
#include <QPushButton>

#include "app/format/text.h"

namespace eh {

ImportChoice ask_import_in_dialog(QWidget* parent, const Job& known,
                                  const std::vector<std::string>& differences) {
    QStringList lines;
    for (const std::string& difference : differences)
        lines << format::qt(difference);
    QMessageBox box(
        QMessageBox::Question, QMessageBox::tr("The shop has this job already"),
        QMessageBox::tr("Job %1 in the file is not as it is in the shop.\n\n%2\n\nReadings of both are kept "
                        "either way.")
            .arg(format::qt(known.ticket.number.empty() ? known.id.text() : known.ticket.number),
                 lines.join('\n')),
        QMessageBox::NoButton, parent);
    auto* keep = box.addButton(QMessageBox::tr("&Keep the shop's"), QMessageBox::AcceptRole);
    auto* take = box.addButton(QMessageBox::tr("&Take the file's"), QMessageBox::DestructiveRole);
    auto* copy = box.addButton(QMessageBox::tr("Take it as a &copy"), QMessageBox::ActionRole);
    auto* cancel = box.addButton(QMessageBox::Cancel);
    box.setDefaultButton(keep);
    box.setEscapeButton(cancel);
    box.exec();
    return box.clickedButton() == keep   ? ImportChoice::keep
           : box.clickedButton() == take ? ImportChoice::take
           : box.clickedButton() == copy ? ImportChoice::copy
                                         : ImportChoice::cancel;
}

UnsavedChoice ask_unsaved_in_dialog(QWidget* parent, const QString& what) {
    QMessageBox box(
        QMessageBox::Warning, QMessageBox::tr("Not everything is on disk"),
        QMessageBox::tr("%1\n\nMake room on the disk or bring the server back, then try again. What is lost "
                        "now cannot be brought back.")
            .arg(what),
        QMessageBox::NoButton, parent);
    auto* stay = box.addButton(QMessageBox::tr("&Stay"), QMessageBox::RejectRole);
    auto* again = box.addButton(QMessageBox::tr("Try &again"), QMessageBox::AcceptRole);
    auto* elsewhere = box.addButton(QMessageBox::tr("Write the jobs &elsewhere …"), QMessageBox::ActionRole);
    auto* lose = box.addButton(QMessageBox::tr("&Close and lose it"), QMessageBox::DestructiveRole);
    box.setDefaultButton(stay);
    box.setEscapeButton(stay);
    box.exec();
    return box.clickedButton() == again       ? UnsavedChoice::try_again
           : box.clickedButton() == elsewhere ? UnsavedChoice::keep_elsewhere
           : box.clickedButton() == lose      ? UnsavedChoice::lose
                                              : UnsavedChoice::stay;
}

}  // namespace eh
