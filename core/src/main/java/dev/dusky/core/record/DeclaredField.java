package dev.dusky.core.record;

import dev.dusky.core.type.SqlType;

/**
 * A field that a file declares in its own schema.
 *
 * @param path how a feed asks for it
 * @param type its type
 * @param required whether it always has a value
 */
public record DeclaredField(String path, SqlType type, boolean required) {}
