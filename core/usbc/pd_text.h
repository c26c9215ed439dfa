// SPDX-License-Identifier: GPL-3.0-or-later
// Sentences for what is said between charger, machine and cable.
#pragma once

#include <string>
#include <vector>

#include "core/usbc/chunks.h"
#include "core/usbc/negotiation.h"

namespace eh::pd {

// Who is speaking: read from the roles that the header names.
enum class Speaker { charger, machine, cable };
Speaker speaker_of(const Message& message);

// "Source_Capabilities", "GoodCRC"; "reserved control message 31" where the specification names none.
std::string name_of(const Message& message);
std::string name_of(Address address);        // "SOP", "SOP'", ...
std::string describe(const Offer& offer);    // "20 V, up to 3 A"
std::string describe(const Damage& damage);  // "" when nothing is wrong

// Puts one packet after the other into sentences; remembers the offers, which a request only numbers.
class Interpreter {
  public:
    std::string sentence(const Frame& frame);

  private:
    std::string message_sentence(const Message& message);
    std::string request_sentence(const Message& message) const;
    static std::string vendor_sentence(const Message& message);

    std::vector<Offer> offers_;
    ChunkJoiner chunks_;
};

// What the conversation came to, and what that points at.
std::string verdict_sentence(const Negotiation& negotiation, double wanted_volts = 20.0);
// Nobody is accused where the end does not follow from what was heard.
std::vector<std::string> points_at(const Negotiation& negotiation);

}  // namespace eh::pd
