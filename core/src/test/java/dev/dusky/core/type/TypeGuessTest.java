package dev.dusky.core.type;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TypeGuessTest {

  private static TypeGuess of(String values) {
    TypeGuess guess = new TypeGuess();
    List.of(values.split(";")).forEach(value -> guess.add(value, value.startsWith("{")));
    return guess;
  }

  @ParameterizedTest
  @CsvSource({
    "1;-20;9223372036854775807, bigint",
    "9223372036854775808, 'decimal(19,0)'",
    "1;2.50, 'decimal(18,2)'",
    "0.1234567890;12345678901234, 'decimal(24,10)'",
    "007;1, text",
    "1e5, text",
    "true;FALSE, boolean",
    "true;1, text",
    "2026-03-02, date",
    "2026-03-02;2026-02-30, text",
    "2026-03-02T05:46:00, timestamp",
    "2026-03-02T05:46:00Z, timestamp with time zone",
    "123e4567-e89b-12d3-a456-426614174000, uuid",
    "{};1, json",
    "x, text",
  })
  void theTypeHoldsAllValues(String values, String type) {
    assertEquals(type, of(values).type().toString());
  }

  @ParameterizedTest
  @CsvSource({
    "70000, smallint, integer",
    "3000000000, smallint, bigint",
    "3000000000, integer, bigint",
    "92233720368547758070, integer, integer",
    "x, integer, integer",
    "123456.78, 'decimal(5,1)', 'decimal(8,2)'",
    "x, 'decimal(5,1)', 'decimal(5,1)'",
    "abcdefghijk, varchar(4), varchar(20)",
    "12, date, date",
  })
  void typesBecomeAsWideAsNeededOrStay(String values, String from, String to) {
    SqlType type = SqlType.parse(from).orElseThrow();
    assertEquals(to, of(values).widened(type).toString());
  }

  @ParameterizedTest
  @CsvSource({"1;2, 3.5, 'decimal(18,1)'", "1, x, text", "2026-03-02, 2026-03-03, date"})
  void guessesOfSeveralThreadsAreOne(String some, String others, String type) {
    TypeGuess guess = of(some);
    guess.add(of(others));
    guess.add(new TypeGuess());
    assertEquals(type, guess.type().toString());
    assertEquals(some.split(";").length + 1, guess.count());
    assertEquals(some.split(";")[0], guess.example());
  }
}
