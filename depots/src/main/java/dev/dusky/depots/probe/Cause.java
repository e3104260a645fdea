package dev.dusky.depots.probe;

import dev.dusky.core.failure.Hint;
import java.util.function.BiPredicate;

/**
 * Why a store refuses a request, and what to do. In the texts {@code {depot}}, {@code {bucket}},
 * {@code {doing}}, {@code {right}}, {@code {action}}, {@code {region}}, {@code {location}}, {@code
 * {credentials}} and {@code {clock}} represent what they say; the server's own words are always
 * added to the reason.
 *
 * @param when the answers that have this cause, in words, for the documentation
 * @param fits whether an answer to a request has this cause
 * @param what the headline
 * @param why the reason, or an empty string if the answer itself is the reason
 * @param hint what to do
 */
public record Cause(
    String when, BiPredicate<StoreAnswer, StoreRequest> fits, String what, String why, Hint hint) {

  /** A cause whose hint names no command. */
  public static Cause of(
      String when,
      BiPredicate<StoreAnswer, StoreRequest> fits,
      String what,
      String why,
      String hint) {
    return new Cause(when, fits, what, why, Hint.of(hint));
  }

  /** A cause that is known by its error codes alone. */
  public static Cause code(String what, String why, String hint, String... codes) {
    return of(String.join(", ", codes), (answer, request) -> answer.is(codes), what, why, hint);
  }
}
