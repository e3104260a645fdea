/** What loads and merges use: processor and database time, bytes, requests. */
package dev.dusky.core.usage;
