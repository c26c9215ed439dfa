// SPDX-License-Identifier: GPL-3.0-or-later
// What the readings have shown of each sample's quirks (core/inference/likelihood.h): kept for what comes
// next.
#pragma once

#include <map>
#include <string>
#include <vector>

#include "core/inference/likelihood.h"

namespace eh {

class QuirkBook {
  public:
    QuirkBook() = default;
    // For these many hypotheses of so many samples, with the channels of these readings; nothing known yet.
    QuirkBook(std::size_t hypotheses, std::size_t samples, const std::vector<ReadingTerms>& readings,
              const AccuracyOptions& accuracy);

    // Number of a channel, -1 for one that no reading has touched.
    [[nodiscard]] int shift_channel(const std::string& name) const { return number(shift_channels_, name); }
    [[nodiscard]] int doubt_channel(const std::string& name) const { return number(doubt_channels_, name); }

    // nullptr for channel -1.
    Shift* shift(std::size_t hypothesis, std::size_t sample, int channel) {
        return channel < 0 ? nullptr : &shifts_[place(hypothesis, sample, channel, shift_channels_.size())];
    }
    Doubt* doubt(std::size_t hypothesis, std::size_t sample, int channel) {
        return channel < 0 ? nullptr : &doubts_[place(hypothesis, sample, channel, doubt_channels_.size())];
    }
    // As they stand; fresh ones for channel -1.
    [[nodiscard]] Shift shift_of(std::size_t hypothesis, std::size_t sample, int channel) const {
        return channel < 0 ? Shift{} : shifts_[place(hypothesis, sample, channel, shift_channels_.size())];
    }

    [[nodiscard]] Doubt doubt_of(std::size_t hypothesis, std::size_t sample, int channel) const {
        return channel < 0 ? Doubt{} : doubts_[place(hypothesis, sample, channel, doubt_channels_.size())];
    }

  private:
    static int number(const std::map<std::string, int>& channels, const std::string& name) {
        const auto found = channels.find(name);
        return found == channels.end() ? -1 : found->second;
    }
    [[nodiscard]] std::size_t place(std::size_t hypothesis, std::size_t sample, int channel,
                                    std::size_t channels) const {
        return (hypothesis * samples_ + sample) * channels + static_cast<std::size_t>(channel);
    }

    std::size_t samples_ = 0;
    std::map<std::string, int> shift_channels_;
    std::map<std::string, int> doubt_channels_;
    std::vector<Shift> shifts_;
    std::vector<Doubt> doubts_;
};

inline QuirkBook::QuirkBook(std::size_t hypotheses, std::size_t samples,
                            const std::vector<ReadingTerms>& readings, const AccuracyOptions& accuracy)
    : samples_(samples) {
    const auto add = [](std::map<std::string, int>& channels, const std::string& name) {
        if (!name.empty())
            channels.emplace(name, static_cast<int>(channels.size()));
    };
    for (const ReadingTerms& reading : readings) {
        add(shift_channels_, reading.channels[0]);
        add(shift_channels_, reading.channels[1]);
        add(doubt_channels_, reading.word_channel);
    }
    shifts_.assign(hypotheses * samples * shift_channels_.size(), Shift{});
    doubts_.assign(hypotheses * samples * doubt_channels_.size(), Doubt{accuracy.model_wrong_word});
}

}  // namespace eh
