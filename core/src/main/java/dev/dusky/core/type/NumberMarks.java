package dev.dusky.core.type;

/**
 * The characters that mark decimals and groups of thousands in numbers.
 *
 * @param decimal the decimal mark, one ASCII character
 * @param group the mark between groups of three digits, one character, or an empty string
 */
public record NumberMarks(char decimal, String group) {

  /** A decimal point and no groups. */
  public static final NumberMarks PLAIN = new NumberMarks('.', "");
}
