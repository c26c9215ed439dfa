// SPDX-License-Identifier: GPL-3.0-or-later
// What a net should read to ground, from whatever is known of it, and what a reading is against that.
//
// A reading alone says nothing: a processor's rail of 0.8 ohm may be sound. Evidence is a sound twin on the
// same board, the shop's own readings of that kind of board, and the model of the machine. Ohms are compared
// as logarithms, drops in diode mode as volts.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace eh {

enum class NetQuantity { ohms, drop };  // to ground; red on ground in diode mode for drops

enum class EvidenceSource { twin_net, own_readings, machine_model };

// What one source makes one expect.
struct NetEvidence {
    EvidenceSource source = EvidenceSource::twin_net;
    std::string from;     // for people: "net vbus2 of this board", "4 boards like this"
    double value = 0.0;   // ohms, or volts; of no meaning where it is open
    bool open = false;    // beyond the meter's range
    double spread = 0.0;  // one sigma: of the logarithm of ohms, or in volts
};

// A reading as the instrument shows it.
struct NetValue {
    double value = 0.0;
    bool open = false;         // OL
    double lead_ohms = 0.0;    // of the meter's leads, taken off ohms; 0: they were nulled, or are not known
    double lead_sigma = 0.05;  // what that leaves open, in ohms
};

// What the net itself shows: the leads taken off, never below 0; empty where it is OL.
std::optional<double> without_leads(const NetValue& reading);

// A twin's reading as evidence: two nets built alike on one board agree within a quarter (estimate).
NetEvidence twin_evidence(NetQuantity quantity, const NetValue& reading, std::string from);

// Readings of sound boards of a kind. Their spread is their own where there are many, and a quarter (40 mV)
// where there are few: a scaled inverse chi-square prior of two degrees (Gelman et al., Bayesian Data
// Analysis, section 2.6, from memory). nullopt for none.
std::optional<NetEvidence> own_evidence(NetQuantity quantity, const std::vector<NetValue>& sound_boards);

// Samples of the model of a sound machine, ohms or volts, infinite where open. A model of a kind of machine
// knows its nets within a factor of two (sigma, estimate), or 80 mV. nullopt where no sample says anything.
std::optional<NetEvidence> model_evidence(NetQuantity quantity, const std::vector<double>& samples);

enum class NetVerdict {
    not_enough_known,  // nothing to compare with, or what there is leaves all open
    normal,
    low,     // lower than what is sound, not so low that it must be a short
    short_,  // to ground
    high,    // something that should hang on the net does not
};

struct NetJudgement {
    NetVerdict verdict = NetVerdict::not_enough_known;
    double expected = 0.0;  // median, where not open
    bool expected_open = false;
    double low = 0.0;     // what 95 of 100 sound ones read within
    double high = 0.0;    // infinite: open
    double widths = 0.0;  // by which the reading is off, in what it and the expectation leave open
    std::string says;
};

// A reading against all evidence, which is weighed by how exact it is. Evidence that contradicts itself makes
// the expectation as wide as it is apart.
NetJudgement judge_net(NetQuantity quantity, const NetValue& reading,
                       const std::vector<NetEvidence>& evidence);

// For people, in small letters.
std::string to_text(NetVerdict verdict);

// What to expect when a part has been taken off a net that is too low, and what the reading then says.
struct RemovalForecast {
    double if_it_was = 0.0;  // median ohms; infinite: open
    double if_not = 0.0;
    std::string says;
};
// `evidence` as above; nullopt where nothing is known of the sound net.
std::optional<RemovalForecast> removal_forecast(const NetValue& before,
                                                const std::vector<NetEvidence>& evidence,
                                                const std::string& part);

enum class RemovalVerdict { it_was, it_was_not, one_of_several, cannot_tell };
struct RemovalJudgement {
    RemovalVerdict verdict = RemovalVerdict::cannot_tell;
    std::string says;
};
RemovalJudgement judge_removal(const NetValue& before, const NetValue& after,
                               const std::vector<NetEvidence>& evidence, const std::string& part);

}  // namespace eh
