// SPDX-License-Identifier: GPL-3.0-or-later
// Intake: what the machine is, what the customer says and brings. Only the kind of machine is mandatory.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QStringListModel>
#include <QWidget>

#include "app/screens/intake/fact_box.h"
#include "app/services/job_session.h"
#include "core/machine/model/knowledge.h"
#include "core/machine/model/seen_outside.h"

namespace eh {

class IntakePage : public QWidget {
    Q_OBJECT
  public:
    IntakePage(JobSession& session, const Knowledge& knowledge, QWidget* parent = nullptr);

    // Puts the keyboard where a new ticket starts: on the kind of machine.
    void startTicket();
    // Lists a kind of machine that was added to the knowledge, and chooses it for the job at hand.
    void takeUpMachine(const QString& id);
    // Lists the kinds again: the knowledge holds another one, or one less.
    void listMachines();
    // Shows the button that asks for a new kind of machine.
    void offerMachines() { describe_->show(); }
    [[nodiscard]] QPushButton& describe() { return *describe_; }
    [[nodiscard]] QListView& kinds() { return *kinds_; }
    // What is seen from outside, and that nobody has looked inside.
    [[nodiscard]] QComboBox& usbcPorts() { return *usbc_ports_; }
    [[nodiscard]] QComboBox& otherInlet() { return *other_inlet_; }
    [[nodiscard]] QLineEdit& chargerLabel() { return *charger_label_; }
    [[nodiscard]] QCheckBox& notSeen() { return *not_seen_; }
    [[nodiscard]] QString moneyProblem() const { return money_problem_->text(); }
    [[nodiscard]] QLineEdit& priceLimit() { return *price_limit_; }

  signals:
    void benchAsked();
    void technicianNamed(const QString& name);
    void machineAsked();

  private:
    QLayout* makeOutside();
    QWidget* makeFields();
    QWidget* makeFacts();
    void wire();
    void refresh();
    void listKinds();
    void chooseKind(int row);
    [[nodiscard]] SeenOutside seenOutside() const;
    void showOutside();  // of the job that was opened
    void takeOutside();  // it was changed
    void leaveKindOpen(bool open);
    void putKind(const QString& what, const Topology& topology, bool seen);
    [[nodiscard]] int rowOf(const std::string& kind) const;  // in the list; -1: not there
    void connectText(QLineEdit* field, const QString& what, std::string Ticket::*member);
    void connectMoney(QLineEdit* field, const QString& what, std::optional<double> Ticket::*member);

    JobSession& session_;
    const Knowledge& knowledge_;
    QStringListModel* titles_;
    QListView* kinds_;
    std::vector<const Topology*> listed_;  // by row
    QComboBox* usbc_ports_;
    QComboBox* other_inlet_;
    QCheckBox* not_seen_;
    QPushButton* describe_;
    QLineEdit* number_;
    QLineEdit* customer_;
    QLineEdit* machine_;
    QPlainTextEdit* claim_;
    QLineEdit* brought_;
    QLineEdit* return_of_;
    QLineEdit* technician_;
    QLineEdit* price_limit_;
    QLineEdit* estimate_;
    QLineEdit* charger_label_;
    QLabel* money_problem_;
    QList<FactBox*> facts_;
    QCheckBox* data_;
    bool refreshing_ = false;
};

}  // namespace eh
