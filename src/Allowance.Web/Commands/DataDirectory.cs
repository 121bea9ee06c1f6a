namespace Allowance.Web.Commands;

/// <summary>Where the household's file is kept when nothing else is said.</summary>
public static class DataDirectory
{
    public static string Of(DirectoryInfo? given) => given?.FullName ?? Environment.GetEnvironmentVariable("ALLOWANCE_DATA") ?? Path.Combine(UserData, "allowance");

    /// <summary>A demonstration has a directory of its own, made anew each time, so that its twelve weeks end yesterday.</summary>
    public static string ForDemo => Path.Combine(UserData, "allowance-demo");

    private static string UserData => Environment.GetFolderPath(Environment.SpecialFolder.LocalApplicationData) is { Length: > 0 } folder
        ? folder
        : Path.Combine(Environment.GetFolderPath(Environment.SpecialFolder.UserProfile), ".local", "share");
}
