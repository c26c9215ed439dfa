// SPDX-License-Identifier: GPL-3.0-or-later
// A program whose slots, events and threads throw, one kind after the other; prints each report that reaches
// the last handler and ends with how many there were.
#include <QAbstractListModel>
#include <QListView>
#include <QPushButton>
#include <QTest>
#include <QTimer>
#include <cstdio>

#include "app/guarded_application.h"
#include "app/services/job_repository.h"
#include "app/services/latest_task.h"

namespace {

class ThrowingPaint : public QWidget {
  protected:
    void paintEvent(QPaintEvent*) override {
        if (!thrown_)
            thrown_ = true, throw std::runtime_error("paint");
    }

  private:
    bool thrown_ = false;
};

class ThrowingModel : public QAbstractListModel {
  public:
    [[nodiscard]] int rowCount(const QModelIndex&) const override { return 1; }
    [[nodiscard]] QVariant data(const QModelIndex&, int role) const override {
        if (role == Qt::DisplayRole && !thrown_)
            thrown_ = true, throw std::runtime_error("model");
        return {};
    }

  private:
    mutable bool thrown_ = false;
};

void throw_by_hand(QPushButton& button) {
    QObject::connect(&button, &QPushButton::clicked, [] { throw std::runtime_error("click"); });
    QTest::mouseClick(&button, Qt::LeftButton);
    QTimer::singleShot(0, [] { throw std::runtime_error("timer"); });
    QMetaObject::invokeMethod(
        &button, [] { throw std::runtime_error("queued"); }, Qt::QueuedConnection);
}

}  // namespace

int main(int argc, char** argv) {
    eh::GuardedApplication application(argc, argv);
    int reports = 0;
    application.setReport([&](const QString& what) {
        std::printf("%s\n", qPrintable(what));
        ++reports;
    });
    QPushButton button("throw");
    button.show();
    throw_by_hand(button);
    ThrowingPaint painted;
    painted.show();
    ThrowingModel model;
    QListView view;
    view.setModel(&model);
    view.show();
    eh::LatestTask<int> task;
    task.start([](const eh::TaskControl&) -> int { throw std::runtime_error("task"); }, [](int) {});
    eh::JobRepository repository;
    eh::Asking asking;
    QObject::connect(&repository, &eh::JobRepository::shopChanged, [&] {
        repository.ask<int>(
            asking, [](eh::JobStore&) -> int { throw std::runtime_error("question"); }, [](int) {});
    });
    const std::filesystem::path file = argc > 1 ? argv[1] : "shop.sqlite";
    repository.open([file] { return eh::JobStore::open(file); }, [](const eh::Outcome&) {});
    constexpr int expected = 7;
    constexpr int patience_ms = 20000;
    const bool all = QTest::qWaitFor([&] { return reports == expected; }, patience_ms);
    std::printf("%d\n", reports);
    // What threw is over; the next question is answered.
    bool answered = false;
    repository.ask<int>(
        asking, [](eh::JobStore&) { return 1; }, [&](int) { answered = true; });
    return all && QTest::qWaitFor([&] { return answered; }, patience_ms) ? 0 : 1;
}
