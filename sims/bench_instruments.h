// SPDX-License-Identifier: GPL-3.0-or-later
// The simulated multimeter and bench supply: what they answer to SCPI.
#pragma once

#include <memory>
#include <string>

#include "core/base/random.h"
#include "sims/bench_machine.h"

namespace eh::sims {

// An instrument that answers lines. Time is the machine's, in seconds.
class ScpiInstrument {
  public:
    virtual ~ScpiInstrument() = default;
    // The answer to one line (several commands may stand in it, separated by ";"), without its end; empty
    // when nothing was asked. What is not understood goes to the error queue.
    std::string answer(const std::string& line, double now_s);

  protected:
    // Carries out one command in capitals; false when it is none of this instrument's. An answer is put
    // into `reply`.
    virtual bool carry_out(const std::string& command, const std::string& value, double now_s,
                           std::string& reply) = 0;
    [[nodiscard]] virtual const char* identity() const = 0;
    void note_error(const std::string& error) { errors_.push_back(error); }

  private:
    void one(const std::string& text, double now_s, std::string& replies);

    std::vector<std::string> errors_;
};

// Volts and ohms to ground of the net that its probe is on ("SIM:PROBE net").
class SimulatedMultimeter : public ScpiInstrument {
  public:
    SimulatedMultimeter(std::shared_ptr<BenchMachine> machine, std::uint64_t seed)
        : machine_(std::move(machine)), noise_(seed ^ 0xd133ULL) {}

  private:
    bool carry_out(const std::string& command, const std::string& value, double now_s,
                   std::string& reply) override;
    [[nodiscard]] const char* identity() const override;

    std::shared_ptr<BenchMachine> machine_;
    Random noise_;
    int net_ = -1;
};

// Feeds the net that its clip is on ("SIM:CLIP net").
class SimulatedSupply : public ScpiInstrument {
  public:
    SimulatedSupply(std::shared_ptr<BenchMachine> machine, std::uint64_t seed)
        : machine_(std::move(machine)), noise_(seed ^ 0x50f7ULL) {}

  private:
    bool carry_out(const std::string& command, const std::string& value, double now_s,
                   std::string& reply) override;
    [[nodiscard]] const char* identity() const override;
    bool set(const std::string& value, double most, double& target);
    void apply(double now_s);

    std::shared_ptr<BenchMachine> machine_;
    Random noise_;
    std::string net_;
    double volts_ = 0.0;
    double amps_ = 0.1;
    bool on_ = false;
};

}  // namespace eh::sims
