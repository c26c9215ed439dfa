// SPDX-License-Identifier: GPL-3.0-or-later
// The menus of the main window: what can be done from everywhere, with its keys.
#include <QMenu>
#include <QMenuBar>

#include "app/main_window.h"
#include "app/screens/bench/bench_page.h"
#include "app/screens/bench/next_acts_view.h"
#include "app/screens/bench/quick_line_edit.h"
#include "app/screens/bench/roll_view.h"
#include "app/screens/proof/proof_page.h"
#include "app/shop_menu.h"
#include "app/widgets/working_style_menu.h"

namespace eh {

void MainWindow::makeMenus() {
    const auto add = [this](QMenu* menu, const QString& text, const QKeySequence& key, auto act) {
        auto* action = menu->addAction(text);
        action->setShortcut(key);
        connect(action, &QAction::triggered, this, act);
        return action;
    };
    QMenu* job = menuBar()->addMenu(tr("&Job"));
    add(job, tr("&New ticket"), QKeySequence::New, [this] { newTicket(); });
    add(job, tr("&Import a job file …"), QKeySequence::Open, [this] { importAsked(); });
    add(job, tr("What is &known of this machine …"), {}, [this] { showDesign(); });
    add(job, tr("Plan of the next &hour …"), {}, [this] { showHour(); });
    add(job, tr("How &often parts are at fault …"), {}, [this] { showRates(); });
    own_machines_action_ = job->addAction(tr("The shop's own &kinds of machine …"));
    own_machines_action_->setVisible(false);  // until there is a place to keep them
    shop_menu_ = new ShopMenu(*this);
    job->addMenu(shop_menu_);
    job->addSeparator();
    add(job, tr("&Quit"), QKeySequence::Quit, [this] { close(); });
    QMenu* edit = menuBar()->addMenu(tr("&Edit"));
    QAction* undo = workbench_.session.undoStack().createUndoAction(this, tr("&Undo"));
    undo->setShortcut(QKeySequence::Undo);
    QAction* redo = workbench_.session.undoStack().createRedoAction(this, tr("&Redo"));
    redo->setShortcut(QKeySequence::Redo);
    edit->addAction(undo);
    edit->addAction(redo);
    QMenu* bench = menuBar()->addMenu(tr("&Bench"));
    // Space decides a proof step on the proof page, so capturing keeps to the bench; F9 is the foot pedal's
    // key.
    QAction* capture = add(bench, tr("&Capture the meter  (also Space)"), QKeySequence(Qt::Key_F9), [this] {
        if (station() == ProofStation)
            proof_->decide(true);
        else
            bench_->capture();
    });
    Q_UNUSED(capture)
    auto* space = new QAction(bench_);
    space->setShortcut(Qt::Key_Space);
    space->setShortcutContext(Qt::WidgetWithChildrenShortcut);
    bench_->addAction(space);
    connect(space, &QAction::triggered, bench_, &BenchPage::capture);
    add(bench, tr("&Type a reading"), QKeySequence(Qt::Key_Slash), [this] {
        go(BenchStation);
        bench_->quickLine().start();
    });
    for (int i = 0; i < 3; ++i)
        add(bench, tr("Begin next act %1").arg(i + 1), QKeySequence(Qt::Key_1 + i), [this, i] {
            if (station() == BenchStation)
                bench_->nextActs().pick(i);
        });
    bench->addSeparator();
    for (QAction* action : strip_->benchActions())
        bench->addAction(action);
    bench->addSeparator();
    add(bench, tr("Roll: back in time"), QKeySequence(Qt::CTRL | Qt::Key_Left),
        [this] { bench_->roll().scroll(-0.5); });
    add(bench, tr("Roll: forward"), QKeySequence(Qt::CTRL | Qt::Key_Right),
        [this] { bench_->roll().scroll(0.5); });
    add(bench, tr("Roll: now"), QKeySequence(Qt::CTRL | Qt::Key_End), [this] { bench_->roll().follow(); });
    add(bench, tr("Roll: longer"), QKeySequence(Qt::CTRL | Qt::Key_Minus),
        [this] { bench_->roll().setSpan(bench_->roll().span() * 1.5); });
    add(bench, tr("Roll: shorter"), QKeySequence(Qt::CTRL | Qt::Key_Plus),
        [this] { bench_->roll().setSpan(bench_->roll().span() / 1.5); });
    add(bench, tr("Roll: the whole job"), QKeySequence(Qt::CTRL | Qt::Key_Home),
        [this] { bench_->roll().showAll(); });
    bench->addSeparator();
    auto* style = new WorkingStyleMenu(workbench_.preferences.nextOptions(), bench);
    bench->addMenu(style);
    workbench_.diagnosis.setNextOptions(style->options());
    connect(style, &WorkingStyleMenu::changed, this, [this](const NextOptions& options) {
        workbench_.preferences.setNextOptions(options);
        workbench_.diagnosis.setNextOptions(options);
        if (workbench_.session.hasJob())
            workbench_.diagnosis.ask(workbench_.session.job());
    });
    add(bench, tr("Connect a &meter …"), QKeySequence("Ctrl+M"), [this] { askMeterAddress(); });
}

}  // namespace eh
