using Outcry.Core.Publishing;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Publishing;

/// <summary>A definition as the desk works on it.</summary>
/// <param name="Row">It as it is kept.</param>
/// <param name="Draft">Its draft.</param>
/// <param name="Live">The newest revision; null before the first publication, and for one that cannot be read any more.</param>
/// <param name="Problems">What the check says of the draft.</param>
/// <param name="Site">The site it belongs to.</param>
internal sealed record DeskDefinition<TContent>(
    DefinitionRow Row,
    TContent Draft,
    Revision<TContent>? Live,
    IReadOnlyList<Problem> Problems,
    LiveSite Site
)
    where TContent : class;
