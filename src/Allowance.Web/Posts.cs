using Allowance.Core.Sittings;

namespace Allowance.Web;

/// <summary>Posts carry an id, so that one that comes twice changes nothing.</summary>
public static class Posts
{
    private const int Longest = 100;

    /// <returns>The id of a post; null where it has none, or something that can be none.</returns>
    public static string? PostId(this HttpRequest request) =>
        request.HasFormContentType && request.Form["post"].ToString() is { Length: > 0 and <= Longest } id && id.All(c => char.IsAsciiLetterOrDigit(c) || c == '-') ? id : null;
}

/// <summary>The ways to play, as forms name them.</summary>
public static class Ways
{
    /// <returns>The way with that name; with notes only where there is none.</returns>
    public static Way Of(string? name) => Enum.GetValues<Way>().FirstOrDefault(w => w.ToString().Equals(name, StringComparison.OrdinalIgnoreCase), Way.Notes);
}
