namespace Outcry.Core.Saying;

/// <summary>A wording that cannot be said with the values at hand. It silences the callout that says it, and no other.</summary>
public sealed class WordingException(string message, Exception? cause = null) : Exception(message, cause);
