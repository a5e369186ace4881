using NodaTime;

namespace Outcry.Core.Publishing;

/// <summary>A definition as it stands, whatever its content.</summary>
/// <param name="Id">The definition.</param>
/// <param name="Name">Its name among the team.</param>
/// <param name="State">Where it stands.</param>
/// <param name="CreatedAt">When it was made; of two equals the older goes first.</param>
/// <param name="Revision">Number of the revision meant; 0 for a draft that was never published.</param>
public sealed record Definition(Guid Id, string Name, DefinitionState State, Instant CreatedAt, int Revision);

/// <summary>A frozen version of a definition's content.</summary>
/// <typeparam name="T">The content.</typeparam>
/// <param name="Number">From 1, by publication.</param>
/// <param name="Content">What was published.</param>
/// <param name="PublishedAt">When.</param>
/// <param name="PublishedBy">By whom.</param>
public sealed record Revision<T>(int Number, T Content, Instant PublishedAt, string PublishedBy)
    where T : class;
