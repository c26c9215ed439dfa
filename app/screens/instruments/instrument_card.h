// SPDX-License-Identifier: GPL-3.0-or-later
// One instrument: where it is, how it is, what it shows, and why it does not answer.
#pragma once

#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace eh {

class InstrumentCard : public QFrame {
    Q_OBJECT
  public:
    InstrumentCard(const QString& name, const QString& about, QWidget* parent = nullptr);

    // What goes under the value: controls of its own.
    [[nodiscard]] QVBoxLayout& body() { return *body_; }
    [[nodiscard]] QLineEdit& address() { return *address_; }
    [[nodiscard]] QPushButton& connectButton() { return *connect_; }

    enum class Tone { quiet, good, danger };
    void setState(const QString& word, Tone tone);
    // Who it says that it is; empty: what it is for.
    void setIdentity(const QString& identity);
    void setProblem(const QString& sentence);
    void setConnected(bool connected);
    void setValue(const QString& first, const QString& second = {});
    [[nodiscard]] QString state() const { return state_->text(); }
    [[nodiscard]] QString problem() const { return problem_->text(); }
    [[nodiscard]] QString value() const { return first_->text(); }

  signals:
    void connectAsked(const QString& address);
    void disconnectAsked();

  protected:
    void resizeEvent(QResizeEvent* event) override;

  private:
    bool connected_ = false;
    QString about_;
    QLabel* words_;
    QLabel* state_;
    QLineEdit* address_;
    QPushButton* connect_;
    QLabel* problem_;
    QLabel* first_;
    QLabel* second_;
    QWidget* value_;
    QVBoxLayout* body_;
};

}  // namespace eh
