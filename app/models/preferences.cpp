#include "app/models/preferences.h"

#include <QStringList>
#include <algorithm>

namespace eh {
namespace {

constexpr const char* school_key = "next/school";
constexpr const char* missing_key = "next/missing_instruments";
constexpr const char* reflow_key = "next/reflow_first";
constexpr const char* spares_key = "next/known_good_parts";
constexpr const char* second_key = "next/second_instruments";

}  // namespace

NextOptions Preferences::nextOptions() const {
    NextOptions options;
    const int school = settings_.value(school_key, 0).toInt();
    if (school >= 0 && school < school_count)
        options.school = static_cast<School>(school);
    options.reflow_first = settings_.value(reflow_key, options.reflow_first).toBool();
    options.known_good_parts = settings_.value(spares_key, options.known_good_parts).toBool();
    options.second_instruments = settings_.value(second_key, options.second_instruments).toBool();
    // What is missing is remembered, so that an instrument of a later version is owned until somebody says
    // no.
    for (const QString& name : settings_.value(missing_key).toStringList()) {
        const auto kind = reading_kind_from(name.toStdString());
        if (kind)
            options.instruments.erase(
                std::remove(options.instruments.begin(), options.instruments.end(), *kind),
                options.instruments.end());
    }
    return options;
}

void Preferences::setNextOptions(const NextOptions& options) {
    settings_.setValue(school_key, static_cast<int>(options.school));
    settings_.setValue(reflow_key, options.reflow_first);
    settings_.setValue(spares_key, options.known_good_parts);
    settings_.setValue(second_key, options.second_instruments);
    QStringList missing;
    for (const ReadingKind kind : NextOptions{}.instruments) {
        const auto& owned = options.instruments;
        if (std::find(owned.begin(), owned.end(), kind) == owned.end())
            missing += QString::fromStdString(to_text(kind));
    }
    settings_.setValue(missing_key, missing);
}

}  // namespace eh
