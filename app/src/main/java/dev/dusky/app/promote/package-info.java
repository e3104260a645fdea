/** The use case: promote a captured field. */
package dev.dusky.app.promote;
