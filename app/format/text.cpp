// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/format/text.h"

#include <QCoreApplication>
#include <QDateTime>
#include <algorithm>
#include <cmath>

#include "core/base/text.h"

namespace eh::format {
namespace {

QString tr(const char* text) {
    return QCoreApplication::translate("format", text);
}

constexpr double strong_weight = 2.3;  // ten to one
constexpr double some_weight = 0.7;    // two to one
constexpr int most_decimals = 12;

}  // namespace

QString number(double value, int decimals) {
    const std::string format = "%." + integer_text(std::clamp(decimals, 0, most_decimals)) + "f";
    return qt(number_text(format.c_str(), value));
}

QString figures(double value, int count) {
    const std::string format = "%." + integer_text(std::clamp(count, 1, most_decimals)) + "g";
    return qt(number_text(format.c_str(), value));
}

QString percent(double probability) {
    if (probability > 0.0 && probability < 0.01)
        return QStringLiteral("<1 %");
    if (probability < 1.0 && probability > 0.995)
        return QStringLiteral(">99 %");
    return QStringLiteral("%1 %").arg(std::lround(probability * 100.0));
}

QString minutes(double minutes) {
    const long whole = std::max(1L, std::lround(minutes));
    return whole < 60 ? tr("%1 min").arg(whole)
                      : tr("%1 h %2").arg(whole / 60).arg(whole % 60, 2, 10, QLatin1Char('0'));
}

QString duration(double seconds) {
    const long whole = std::max(0L, std::lround(seconds));
    if (whole < 60)
        return tr("%1 s").arg(whole);
    if (whole < 3600)
        return tr("%1 min %2 s").arg(whole / 60).arg(whole % 60);
    return minutes(seconds / 60.0);
}

QString stage(JobStage stage) {
    switch (stage) {
        case JobStage::intake:
            return tr("Intake");
        case JobStage::bench:
            return tr("On the bench");
        case JobStage::repair:
            return tr("Being repaired");
        case JobStage::proof:
            return tr("Being proven");
        case JobStage::handover:
            return tr("Ready to hand over");
        case JobStage::closed:
            return tr("Closed");
    }
    return {};
}

QString shelfName(WaitsFor waits) {
    switch (waits) {
        case WaitsFor::bench:
            return tr("Bench");
        case WaitsFor::customer:
            return tr("Customer");
        case WaitsFor::part:
            return tr("A part");
        case WaitsFor::soak:
            return tr("Soak");
        case WaitsFor::follow_up:
            return tr("Follow-up");
        case WaitsFor::nothing:
            return tr("Closed");
    }
    return {};
}

QString waitsFor(WaitsFor waits, JobStage stage) {
    switch (waits) {
        case WaitsFor::customer:
            return tr("the customer");
        case WaitsFor::part:
            return tr("a part");
        case WaitsFor::soak:
            return tr("the soak");
        case WaitsFor::follow_up:
            return tr("a look again");
        case WaitsFor::nothing:
            return tr("nothing");
        case WaitsFor::bench:
            break;
    }
    switch (stage) {
        case JobStage::intake:
            return tr("first readings");
        case JobStage::bench:
            return tr("a finding");
        case JobStage::repair:
            return tr("the repair");
        case JobStage::proof:
            return tr("proof");
        case JobStage::handover:
        case JobStage::closed:
            return tr("the bench");
    }
    return {};
}

QString date(std::int64_t ms) {
    if (ms == 0)
        return {};
    const QDate day = QDateTime::fromMSecsSinceEpoch(ms).date();
    return day.toString(day.year() == QDate::currentDate().year() ? "d MMM" : "d MMM yyyy");
}

QString dateTime(std::int64_t ms) {
    if (ms == 0)
        return {};
    const QDateTime moment = QDateTime::fromMSecsSinceEpoch(ms);
    return moment.toString(moment.date().year() == QDate::currentDate().year() ? "d MMM, hh:mm"
                                                                               : "d MMM yyyy, hh:mm");
}

QString workWord(Work work) {
    return qt(to_title(work));
}

QString blockTitle(const MachinePlan& plan, const std::string& block) {
    if (const Block* known = plan.topology().find_block(block))
        return qt(known->title);
    const int index = plan.find_block(block);
    return index < 0 ? qt(block)
                     : tr("Customer's %1").arg(qt(plan.blocks[static_cast<std::size_t>(index)].kind->title));
}

QString faultWords(const MachinePlan& plan, const Hypothesis& hypothesis, const std::string& block) {
    QString own;
    QStringList others;
    for (const FaultInstance& fault : faults_now(hypothesis, plan.knowledge().catalogue)) {
        if (fault.block == block)
            own += (own.isEmpty() ? QString() : QStringLiteral(", ")) +
                   qt(plan.knowledge().catalogue.find(fault.fault)->title);
        else
            others += qt(fault_title(plan.knowledge(), plan.topology(), fault));
    }
    return others.isEmpty()
               ? own
               : QCoreApplication::translate("format", "%1; with it: %2").arg(own, others.join("; "));
}

QString weightWords(double weight) {
    if (weight >= strong_weight)
        return tr("speaks strongly for it");
    if (weight >= some_weight)
        return tr("speaks for it");
    if (weight <= -strong_weight)
        return tr("speaks strongly against it");
    if (weight <= -some_weight)
        return tr("speaks against it");
    return tr("says little about it");
}

}  // namespace eh::format
