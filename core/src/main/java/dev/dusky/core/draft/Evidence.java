package dev.dusky.core.draft;

/**
 * Why a draft says what it says.
 *
 * @param about what was decided, such as {@code delimiter}
 * @param decision the decision
 * @param because the observation behind it
 * @param doubtful whether a person should look at it
 */
public record Evidence(String about, String decision, String because, boolean doubtful) {}
