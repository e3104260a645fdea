package dev.dusky.core.draft;

import dev.dusky.core.json.JsonTree;
import dev.dusky.core.type.MarkedNumber;
import dev.dusky.core.type.NumberMarks;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TemporalText;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.type.UuidText;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * The type of a column from its values as texts, nulls left out. A type is taken if all but a few
 * in ten thousand values fit (dates and fractions: all but a few in a thousand); numbers that begin
 * with zeroes, and codes that only look like numbers, stay texts.
 *
 * @param type the type, widened, since the sample is small
 * @param pattern the form of dates, times and booleans where it is not the usual one
 * @param marks the marks in numbers
 * @param because what was seen
 * @param doubtful whether another reading fits as well
 * @param dayFirst whether the day comes first in dates; empty if unknown
 */
record ColumnGuess(
    SqlType type,
    Optional<String> pattern,
    NumberMarks marks,
    String because,
    boolean doubtful,
    Optional<Boolean> dayFirst) {

  /**
   * One in this number of values may not fit; codes of digits with an occasional letter stay text.
   */
  private static final int ONE_IN = 1500;

  /** One in this number of dates or fractions may not fit: hardly any code looks like them. */
  private static final int ONE_IN_DISTINCT = 500;

  /** How many values of one word alone make a truth value of it. */
  private static final int ENOUGH = 20;

  private static final Pattern WHOLE = Pattern.compile("-?(0|[1-9]\\d{0,18})");
  private static final Pattern LEADING_ZERO_WHOLE = Pattern.compile("-?0\\d+");
  private static final Pattern LEADING_ZERO = Pattern.compile("[-+]?0\\d+.*");
  private static final Pattern SCIENTIFIC =
      Pattern.compile(
          "-?(\\d{1,20}\\.\\d*|\\.\\d+)([eE][-+]?\\d{1,3})?|-?\\d{1,20}([eE][-+]\\d{1,3})?");

  /** Whether a text looks like a printed double: an exponent, or more digits than people write. */
  private static final Pattern PRINTED =
      Pattern.compile("-?\\d*\\.?\\d*[eE][-+]?\\d{1,3}|-?\\d*\\.\\d{13,}");

  private static final List<String> TRUTHS =
      List.of("true/false", "yes/no", "t/f", "y/n", "ja/nein", "j/n", "oui/non", "si/no", "on/off");

  /** Guesses from values; {@code dayFirst} is the evidence of other columns of the file. */
  public static ColumnGuess of(List<String> values, Optional<Boolean> dayFirst) {
    if (values.isEmpty()) {
      return simple(SqlType.of(TypeKind.TEXT), "no value in the sample", true);
    }
    return truth(values)
        .or(() -> whole(values))
        .or(() -> temporal(values, dayFirst))
        .or(() -> decimal(values))
        .or(() -> real(values))
        .or(() -> special(values))
        .orElseGet(() -> text(values));
  }

  private static ColumnGuess simple(SqlType type, String because, boolean doubtful) {
    return new ColumnGuess(
        type, Optional.empty(), NumberMarks.PLAIN, because, doubtful, Optional.empty());
  }

  private static boolean most(List<String> values, Predicate<String> fits) {
    return most(values, ONE_IN, fits);
  }

  private static boolean most(List<String> values, int oneIn, Predicate<String> fits) {
    int misses = 0;
    int most = values.size() / oneIn;
    for (String value : values) {
      if (!fits.test(value) && ++misses > most) {
        return false;
      }
    }
    return true;
  }

  private static Optional<ColumnGuess> truth(List<String> values) {
    Set<String> words = new TreeSet<>();
    for (String value : values) {
      words.add(value);
      if (words.size() > 2) {
        return Optional.empty();
      }
    }
    for (String pair : TRUTHS) {
      String yes = pair.substring(0, pair.indexOf('/'));
      String no = pair.substring(pair.indexOf('/') + 1);
      boolean fits =
          words.stream().allMatch(w -> w.equalsIgnoreCase(yes) || w.equalsIgnoreCase(no));
      boolean both = words.size() == 2 || yes.length() > 1 && values.size() >= ENOUGH;
      if (fits && both) {
        String as =
            words.stream()
                .filter(w -> w.equalsIgnoreCase(yes))
                .findFirst()
                .orElse(cased(yes, words));
        String not =
            words.stream().filter(w -> w.equalsIgnoreCase(no)).findFirst().orElse(cased(no, words));
        boolean usual = pair.equals("true/false") && as.equals("true") && not.equals("false");
        return Optional.of(
            new ColumnGuess(
                SqlType.of(TypeKind.BOOLEAN),
                usual ? Optional.empty() : Optional.of(as + "/" + not),
                NumberMarks.PLAIN,
                "only "
                    + words.stream().map(w -> "'" + w + "'").collect(Collectors.joining(" and ")),
                false,
                Optional.empty()));
      }
    }
    return Optional.empty();
  }

  private static String cased(String word, Set<String> like) {
    String other = like.iterator().next();
    return other.equals(other.toUpperCase(Locale.ROOT))
        ? word.toUpperCase(Locale.ROOT)
        : Character.isUpperCase(other.charAt(0))
            ? Character.toUpperCase(word.charAt(0)) + word.substring(1)
            : word;
  }

  private static Optional<ColumnGuess> whole(List<String> values) {
    if (!most(values, v -> WHOLE.matcher(v).matches())) {
      return Optional.empty();
    }
    // Eight digits that are all days of our age are dates, unless there are too few for evidence.
    long distinct = values.stream().distinct().limit(20).count();
    TemporalText day = new TemporalForm(TypeKind.DATE, "yyyyMMdd").reader();
    if (distinct >= 3
        && most(values, v -> v.length() == 8 && ofOurAge(v) && TemporalForm.fits(day, v))) {
      return Optional.empty();
    }
    long least = Long.MAX_VALUE;
    long most = Long.MIN_VALUE;
    for (String value : values) {
      if (WHOLE.matcher(value).matches()) {
        try {
          least = Math.min(least, Long.parseLong(value));
          most = Math.max(most, Long.parseLong(value));
        } catch (NumberFormatException e) {
          return Optional.of(
              simple(SqlType.decimal(value.length() + 4, 0), "whole numbers of 19 digits", false));
        }
      }
    }
    long size = Math.max(most, least == Long.MIN_VALUE ? Long.MAX_VALUE : -least);
    TypeKind kind =
        size < 3_000 ? TypeKind.SMALLINT : size < 200_000_000 ? TypeKind.INTEGER : TypeKind.BIGINT;
    return Optional.of(
        simple(SqlType.of(kind), "whole numbers from %,d to %,d".formatted(least, most), false));
  }

  private static boolean ofOurAge(String yyyymmdd) {
    int year = Integer.parseInt(yyyymmdd.substring(0, 4));
    return year >= 1900 && year <= 2100;
  }

  private static Optional<ColumnGuess> temporal(List<String> values, Optional<Boolean> dayFirst) {
    String first = values.get(0);
    if (first.length() < 4 || first.length() > 40 || first.chars().noneMatch(Character::isDigit)) {
      return Optional.empty();
    }
    List<TemporalForm> fitting = new ArrayList<>();
    for (TemporalForm form : TemporalForm.candidates(first)) {
      TemporalText reader = form.reader();
      if (most(values, ONE_IN_DISTINCT, v -> TemporalForm.fits(reader, v))) {
        fitting.add(form);
      }
    }
    if (fitting.isEmpty()) {
      return Optional.empty();
    }
    TemporalForm chosen = fitting.get(0);
    Optional<TemporalForm> other =
        fitting.stream()
            .filter(f -> dayFirst(f).isPresent() && !dayFirst(f).equals(dayFirst(chosen)))
            .findFirst();
    boolean decidedElsewhere = dayFirst.isPresent() && other.isPresent();
    TemporalForm form =
        decidedElsewhere && !dayFirst(chosen).equals(dayFirst) ? other.get() : chosen;
    boolean doubtful = other.isPresent() && !decidedElsewhere;
    String because =
        doubtful
            ? "no day above 12: %s fits as well".formatted(other.get().pattern())
            : decidedElsewhere
                ? "the order of day and month as in other columns, or as in the dates of the paths"
                : "such as " + first;
    return Optional.of(
        new ColumnGuess(
            SqlType.of(form.kind()),
            Optional.of(form.pattern()).filter(p -> !p.isEmpty()),
            NumberMarks.PLAIN,
            because,
            doubtful,
            other.isEmpty() ? dayFirst(chosen) : Optional.empty()));
  }

  private static Optional<Boolean> dayFirst(TemporalForm form) {
    int day = form.pattern().indexOf('d');
    int month = form.pattern().indexOf('M');
    boolean names = form.pattern().contains("MMM") || form.pattern().startsWith("y");
    return day < 0 || month < 0 || names ? Optional.empty() : Optional.of(day < month);
  }

  private static Optional<ColumnGuess> decimal(List<String> values) {
    List<NumberMarks> candidates =
        List.of(
            NumberMarks.PLAIN,
            new NumberMarks('.', ","),
            new NumberMarks(',', ""),
            new NumberMarks(',', "."),
            new NumberMarks(',', " "),
            new NumberMarks(',', "\u00a0"),
            new NumberMarks('.', " "),
            new NumberMarks('.', "'"));
    for (NumberMarks marks : candidates) {
      Optional<ColumnGuess> guess = decimal(values, marks);
      if (guess.isPresent()) {
        return guess;
      }
    }
    return Optional.empty();
  }

  private static Optional<ColumnGuess> decimal(List<String> values, NumberMarks marks) {
    MarkedNumber marked = new MarkedNumber(marks);
    int[] most = {0, 0};
    int[] fitting = {0, 0};
    boolean fits =
        most(
            values,
            ONE_IN_DISTINCT,
            v -> {
              String plain = v;
              if (!marks.equals(NumberMarks.PLAIN)) {
                byte[] bytes = v.getBytes(StandardCharsets.UTF_8);
                int length = marked.convert(bytes, 0, bytes.length);
                if (length < 0) {
                  return false;
                }
                plain = new String(marked.plain(), 0, length, StandardCharsets.US_ASCII);
              }
              boolean number = plain.matches("[-+]?(\\d{1,30}(\\.\\d{1,12})?|\\.\\d{1,12})");
              if (!number || LEADING_ZERO.matcher(plain).matches() || v.startsWith("+")) {
                return false;
              }
              String digits = plain.replaceFirst("^[-+]", "");
              int point = digits.indexOf('.');
              most[0] = Math.max(most[0], point < 0 ? digits.length() : point);
              most[1] = Math.max(most[1], point < 0 ? 0 : digits.length() - point - 1);
              fitting[point < 0 ? 0 : 1]++;
              return true;
            });
    int misses = values.size() - fitting[0] - fitting[1];
    boolean fractions = fitting[1] * 2 > values.size();
    if (!fits || misses > values.size() / (fractions ? ONE_IN_DISTINCT : ONE_IN)) {
      return Optional.empty();
    }
    boolean groupsOnly = !marks.group().isEmpty() && most[1] == 0;
    String grouped =
        marks.group().isEmpty() ? "" : ", '%s' between thousands".formatted(marks.group());
    SqlType type =
        groupsOnly
            ? SqlType.of(most[0] < 9 ? TypeKind.INTEGER : TypeKind.BIGINT)
            : SqlType.decimal(Math.min(38, most[0] + 2 + most[1]), most[1]);
    boolean doubtful = groupsOnly || marks.decimal() == ',' && most[1] == 3 && fitting[0] == 0;
    return Optional.of(
        new ColumnGuess(
            type,
            Optional.empty(),
            marks,
            "up to %d before and %d behind the '%s'%s"
                .formatted(most[0], most[1], marks.decimal(), grouped),
            doubtful && marks.decimal() == ',',
            Optional.empty()));
  }

  private static Optional<ColumnGuess> real(List<String> values) {
    boolean any = values.stream().anyMatch(v -> PRINTED.matcher(v).matches());
    return any
            && most(
                values,
                v -> SCIENTIFIC.matcher(v).matches() && !LEADING_ZERO_WHOLE.matcher(v).matches())
        ? Optional.of(
            simple(SqlType.of(TypeKind.DOUBLE), "numbers with exponents or many decimals", false))
        : Optional.empty();
  }

  private static Optional<ColumnGuess> special(List<String> values) {
    UuidText uuid = new UuidText();
    boolean uuids =
        most(
            values,
            v -> {
              byte[] bytes = v.getBytes(StandardCharsets.UTF_8);
              // Without hyphens it may be a hash as well, and stays as it is written.
              return v.indexOf('-') > 0 && uuid.parse(bytes, 0, bytes.length);
            });
    if (uuids) {
      return Optional.of(simple(SqlType.of(TypeKind.UUID), "all UUIDs", false));
    }
    JsonTree tree = new JsonTree();
    boolean json =
        most(
            values,
            v -> {
              byte[] bytes = v.getBytes(StandardCharsets.UTF_8);
              return (v.startsWith("{") || v.startsWith("[")) && tree.read(bytes, 0, bytes.length);
            });
    return json
        ? Optional.of(simple(SqlType.of(TypeKind.JSON), "all JSON", false))
        : Optional.empty();
  }

  private static ColumnGuess text(List<String> values) {
    int longest = values.stream().mapToInt(v -> v.codePointCount(0, v.length())).max().orElse(1);
    boolean zeroes = most(values, v -> v.matches("\\d+"));
    String because =
        zeroes
            ? "digits with leading zeroes, which a number would lose"
            : "up to %d characters".formatted(longest);
    return simple(SqlType.of(TypeKind.VARCHAR, roomy(longest)), because, false);
  }

  /** A length with half as much again, rounded up to one that people write. */
  static int roomy(int longest) {
    int wanted = longest + longest / 2 + 1;
    for (int nice : new int[] {4, 8, 12, 16, 20, 30, 40, 60, 80, 100, 150, 200, 300, 500, 1000}) {
      if (wanted <= nice) {
        return nice;
      }
    }
    return (wanted + 999) / 1000 * 1000;
  }
}
