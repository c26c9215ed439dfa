#include "app/models/preferences.h"

#include <QStringList>
#include <algorithm>

namespace eh {
namespace {

constexpr const char* school_key = "next/school";
constexpr const char* missing_key = "next/missing_instruments";

}  // namespace

NextOptions Preferences::nextOptions() const {
    NextOptions options;
    const int school = settings_.value(school_key, 0).toInt();
    if (school >= 0 && school < school_count)
        options.school = static_cast<School>(school);
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
    QStringList missing;
    for (const ReadingKind kind : NextOptions{}.instruments) {
        const auto& owned = options.instruments;
        if (std::find(owned.begin(), owned.end(), kind) == owned.end())
            missing += QString::fromStdString(to_text(kind));
    }
    settings_.setValue(missing_key, missing);
}

}  // namespace eh
