// SPDX-License-Identifier: GPL-3.0-or-later
// Names that tell things of the shop apart and become part of paths: of jobs, kinds of machine, pictures.
//
// They arrive from job files, exports and servers, so they are taken as hostile: only what fits the alphabet
// becomes an Identifier, and inside() is the one way from an Identifier to a file. What was made with it
// cannot leave its folder.
#pragma once

#include <cassert>
#include <cstddef>
#include <filesystem>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace eh {

inline constexpr std::size_t longest_identifier = 80;

// Whether a text is 1 to 80 letters and digits of ASCII, '-', '_' and '.', and does not begin with a point:
// such a name is no path, no hidden file, and the same on every file system but for its case.
[[nodiscard]] bool fits_identifier(std::string_view text);

// What is said of a text that does not fit: the text is shown cut, without control characters.
[[nodiscard]] Error bad_identifier(std::string_view text, std::string place);

// `Of` keeps identifiers of different things apart. A default-made one is empty: it names nothing.
template <typename Of>
class Identifier {
  public:
    Identifier() = default;
    // Of a literal in the code. Requires that it fits.
    template <std::size_t size>
    Identifier(const char (&literal)[size]) : text_(literal) {  // a literal may stand for it
        assert(text_.empty() || fits_identifier(text_));
    }
    // Requires fits_identifier(text): for names that this program made itself.
    static Identifier made(std::string_view text) {
        assert(fits_identifier(text));
        Identifier identifier;
        identifier.text_ = text;
        return identifier;
    }
    // Refuses what does not fit with a sentence; `place` goes into the error.
    static Result<Identifier> from(std::string_view text, std::string place) {
        if (!fits_identifier(text))
            return bad_identifier(text, std::move(place));
        return made(text);
    }

    [[nodiscard]] const std::string& text() const { return text_; }
    [[nodiscard]] bool empty() const { return text_.empty(); }
    operator const std::string&() const { return text_; }  // every identifier is a text; not the other way

    friend bool operator==(const Identifier&, const Identifier&) = default;
    friend bool operator==(const Identifier& a, const std::string& b) { return a.text_ == b; }
    friend bool operator==(const Identifier& a, const char* b) { return a.text_ == b; }
    friend auto operator<=>(const Identifier& a, const Identifier& b) { return a.text_ <=> b.text_; }

  private:
    std::string text_;
};

struct Job;
using JobId = Identifier<Job>;
struct Topology;
using TopologyId = Identifier<Topology>;
struct KeptFile;  // a file in a folder of the program's, by its name alone
using FileName = Identifier<KeptFile>;

// The file or folder of that name in `folder`, for example inside(folder, job, ".trace"). Requires a name
// that is not empty.
template <typename Of>
std::filesystem::path inside(const std::filesystem::path& folder, const Identifier<Of>& name,
                             std::string_view ending = {}) {
    assert(!name.empty());
    return folder / (name.text() + std::string(ending));
}

}  // namespace eh
