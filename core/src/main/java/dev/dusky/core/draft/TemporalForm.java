package dev.dusky.core.draft;

import dev.dusky.core.type.TemporalPattern;
import dev.dusky.core.type.TemporalText;
import dev.dusky.core.type.TypeKind;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/**
 * A form in which moments are commonly written.
 *
 * @param kind the type that it gives
 * @param pattern its pattern, or an empty text for ISO 8601
 */
public record TemporalForm(TypeKind kind, String pattern) {

  /** An offset with a colon, or Z. */
  private static final String ZONE = "X".repeat(3);

  private static final List<String> DATES =
      List.of(
          "yyyy-MM-dd",
          "dd/MM/yyyy",
          "MM/dd/yyyy",
          "dd.MM.yyyy",
          "MM.dd.yyyy",
          "dd-MM-yyyy",
          "MM-dd-yyyy",
          "yyyy/MM/dd",
          "yyyy.MM.dd",
          "yyyyMMdd",
          "d/M/yyyy",
          "M/d/yyyy",
          "d.M.yyyy",
          "M.d.yyyy",
          "d-M-yyyy",
          "M-d-yyyy",
          "dd MMM yyyy",
          "d MMM yyyy",
          "dd-MMM-yyyy",
          "d-MMM-yyyy",
          "MMM dd, yyyy",
          "MMM d, yyyy");
  private static final List<String> TIMES = List.of("HH:mm:ss", "HH:mm", "H:mm", "HH:mm:ss.SSS");

  private static final List<TemporalForm> ALL = all();

  /** The patterns of all forms, which take their time to be made. */
  private static final Map<String, TemporalPattern> PATTERNS =
      ALL.stream()
          .map(TemporalForm::pattern)
          .filter(pattern -> !pattern.isEmpty())
          .distinct()
          .collect(Collectors.toUnmodifiableMap(pattern -> pattern, TemporalPattern::of));

  private static List<TemporalForm> all() {
    List<TemporalForm> forms = new ArrayList<>();
    for (TypeKind iso :
        List.of(TypeKind.DATE, TypeKind.TIMESTAMP, TypeKind.TIMESTAMP_TZ, TypeKind.TIME)) {
      forms.add(new TemporalForm(iso, ""));
    }
    for (String date : DATES) {
      forms.add(new TemporalForm(TypeKind.DATE, date));
      for (String time : TIMES) {
        forms.add(new TemporalForm(TypeKind.TIMESTAMP, date + " " + time));
        forms.add(new TemporalForm(TypeKind.TIMESTAMP, date + "'T'" + time));
        forms.add(new TemporalForm(TypeKind.TIMESTAMP_TZ, date + " " + time + ZONE));
      }
    }
    forms.add(new TemporalForm(TypeKind.TIMESTAMP, "yyyyMMddHHmmss"));
    for (String time : TIMES) {
      forms.add(new TemporalForm(TypeKind.TIME, time));
    }
    return List.copyOf(forms);
  }

  /** A reader of this form. */
  TemporalText reader() {
    return new TemporalText(kind, pattern.isEmpty() ? null : PATTERNS.get(pattern), null);
  }

  /** The forms that a text may be written in. */
  static List<TemporalForm> candidates(String text) {
    return ALL.stream().filter(form -> fits(form.reader(), text)).toList();
  }

  /** Patterns that a moment of that kind may be written in, when one is written like this. */
  public static List<String> patterns(TypeKind kind, String like) {
    return candidates(like).stream()
        .filter(form -> form.kind() == kind && !form.pattern().isEmpty())
        .map(TemporalForm::pattern)
        .toList();
  }

  static boolean fits(TemporalText reader, String value) {
    byte[] bytes = value.getBytes(StandardCharsets.UTF_8);
    reader.parse(bytes, 0, bytes.length);
    return reader.failure() == null;
  }
}
