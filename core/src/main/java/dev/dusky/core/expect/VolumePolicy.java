package dev.dusky.core.expect;

import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * What a feed expects of the volume of its files, compared with its own past.
 *
 * @param nulls the columns whose share of nulls is compared too
 * @param refuse the part of the usual by which an unusual file may deviate and still be loaded,
 *     such as 0.5; if empty, no file is refused for its volume
 */
public record VolumePolicy(List<String> nulls, Optional<Double> refuse) {

  /** How many earlier files a file is compared with. */
  public static final int PAST = 60;

  /** Unusual files are reported, none is refused. */
  public static final VolumePolicy USUAL = new VolumePolicy(List.of(), Optional.empty());

  public VolumePolicy {
    nulls = List.copyOf(nulls);
  }

  /** The same, refusing no file. */
  public VolumePolicy anyVolume() {
    return new VolumePolicy(nulls, Optional.empty());
  }

  /**
   * Why a file is refused, in words; empty if it is not.
   *
   * @param past earlier files, in any order
   */
  public Optional<String> refusal(Volume file, List<Volume> past) {
    return refuse.flatMap(
        most ->
            file.oddities(past).stream()
                .filter(oddity -> oddity.part() > most)
                .findFirst()
                .map(
                    oddity ->
                        String.format(
                            Locale.ROOT,
                            "unusual volume: %s, and this feed refuses what deviates by more than"
                                + " %.0f%%; if the file is right, load it with --any-volume",
                            oddity.words(),
                            most * 100)));
  }
}
