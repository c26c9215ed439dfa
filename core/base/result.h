// SPDX-License-Identifier: GPL-3.0-or-later
// Outcome of an operation that can fail on what a user or a file supplied.
//
// Core throws nothing across its border: a function that can be refused returns Result<T>, which holds
// either the value or an Error with a sentence for the technician and the place it concerns.
// Programming mistakes are assertions, not errors.
#pragma once

#include <cassert>
#include <string>
#include <utility>
#include <variant>

namespace eh {

// What the caller can do about it.
enum class ErrorKind {
    refused_input,  // the text or file is wrong: correct it and try again
    not_found,      // something named does not exist here
    unavailable,    // disk, network or device does not answer: try again later
    newer_version,  // written by a newer program: leave it alone
    damaged,        // what is stored is broken: go back to a copy
    locked,         // another program holds it: wait, or close that one
    conflict,       // somebody else has changed it meanwhile: load it again
    no_solution,    // the computation has no answer for these values
};

struct Error {
    ErrorKind kind = ErrorKind::refused_input;
    std::string message;  // a whole sentence: what is wrong and what to do
    std::string place;    // file, line, field or reading concerned; may be empty

    // The message with its place in front, as it is shown to a person.
    [[nodiscard]] std::string text() const { return place.empty() ? message : place + ": " + message; }
};

inline Error refused(std::string message, std::string place = {}) {
    return {ErrorKind::refused_input, std::move(message), std::move(place)};
}

template <typename T>
class [[nodiscard]] Result {
  public:
    Result(T value) : content_(std::move(value)) {}
    Result(Error error) : content_(std::move(error)) {}

    [[nodiscard]] bool ok() const { return std::holds_alternative<T>(content_); }
    explicit operator bool() const { return ok(); }

    // Requires ok().
    [[nodiscard]] const T& value() const& {
        assert(ok() && "Result::value() on an error");
        return std::get<T>(content_);
    }
    [[nodiscard]] T&& value() && {
        assert(ok() && "Result::value() on an error");
        return std::get<T>(std::move(content_));
    }
    const T& operator*() const& { return value(); }
    // By value, so that it outlives the result: `for (const Job& job : *store.list())` reads no freed memory.
    T operator*() && { return std::move(*this).value(); }
    const T* operator->() const { return &value(); }

    // Requires !ok().
    [[nodiscard]] const Error& error() const {
        assert(!ok() && "Result::error() on a value");
        return std::get<Error>(content_);
    }

  private:
    std::variant<T, Error> content_;
};

// A result that carries no value.
struct Done {};
using Outcome = Result<Done>;

}  // namespace eh
