package dev.dusky.app.config;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Predicate;

/** Reads options that are handed on to a library, by the library's names. */
final class OptionsReader {

  private OptionsReader() {}

  /**
   * Reads them.
   *
   * @param fits which names belong there
   * @param problem what is wrong with another, with {@code %s} for its name
   */
  static Map<String, String> read(Section section, Predicate<String> fits, String problem) {
    Map<String, String> options = new LinkedHashMap<>();
    section
        .node("options")
        .ifPresent(
            given -> {
              Section all = section.section("options", given);
              for (String name : all.all().keySet()) {
                all.text(name).ifPresent(value -> options.put(name, value));
                if (!fits.test(name)) {
                  all.problem(name, problem.formatted(name));
                }
              }
            });
    return options;
  }
}
