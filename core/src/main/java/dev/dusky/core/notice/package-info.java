/** Notices from stores that files arrived, taken from a queue. */
package dev.dusky.core.notice;
