using System.Runtime.InteropServices;

namespace Allowance.Store;

/// <summary>
/// The directory of a household: for its owner's eyes only, marked once a household lives there, and held by one Allowance
/// at a time.
/// </summary>
public static class HouseholdDirectory
{
    private const string MarkName = "household.mark", LockName = "in-use.lock";

    private const UnixFileMode OwnersDirectory = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute, OwnersFile = UnixFileMode.UserRead | UnixFileMode.UserWrite;

    /// <summary>A file that only its owner may read and write.</summary>
    public static FileStreamOptions Owners(FileMode mode) => new() { Mode = mode, Access = FileAccess.ReadWrite, Share = FileShare.Read, UnixCreateMode = OwnersFile };

    /// <summary>A directory that only its owner may look into.</summary>
    public static DirectoryInfo OwnersFolder(string path) => Directory.CreateDirectory(path, OwnersDirectory);

    /// <summary>Makes the directory where there is none, and takes from others what rights they had in it.</summary>
    internal static void Prepare(string directory)
    {
        var top = OwnersFolder(directory);
        Close(top, OwnersDirectory);
        foreach (var inside in top.EnumerateDirectories("*", SearchOption.AllDirectories)) Close(inside, OwnersDirectory);
        foreach (var file in top.EnumerateFiles("*", SearchOption.AllDirectories)) Close(file, OwnersFile);
    }

    private static void Close(FileSystemInfo entry, UnixFileMode mode)
    {
        try
        {
            if (entry.LinkTarget is null && (entry.UnixFileMode & ~mode) != 0) entry.UnixFileMode &= mode;
        }
        catch (Exception e) when (e is FileNotFoundException or DirectoryNotFoundException)
        {
            // The log beside the file comes and goes with those who have it open.
        }
    }

    /// <summary>Holds the directory until the holder is disposed, or its process ends however it may.</summary>
    /// <exception cref="StoreClosedException">Another Allowance holds it, or it cannot be used.</exception>
    public static IDisposable Hold(string directory)
    {
        try
        {
            // Whatever this process makes from now on is its owner's alone, also what libraries make.
            _ = Umask(Convert.ToInt32("077", 8));
            Prepare(directory);
            return new FileStream(Path.Combine(directory, LockName), new FileStreamOptions { Mode = FileMode.OpenOrCreate, Access = FileAccess.ReadWrite, Share = FileShare.None, UnixCreateMode = OwnersFile });
        }
        catch (IOException e) when (File.Exists(Path.Combine(directory, LockName)))
        {
            throw new StoreClosedException($"Another Allowance is using {directory}. Nothing was changed. Use that one, or stop it first; or choose another directory with --data DIR.", e);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or NotSupportedException)
        {
            throw StoreClosedException.NotUsable(directory, e);
        }
    }

    [DllImport("libc", EntryPoint = "umask", ExactSpelling = true)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int Umask(int mask);

    /// <summary>Removes all that lies in a directory that is held.</summary>
    public static void Empty(string directory)
    {
        foreach (var inside in new DirectoryInfo(directory).EnumerateFileSystemInfos().Where(i => i.Name != LockName))
            if (inside is DirectoryInfo folder) folder.Delete(true);
            else inside.Delete();
    }

    /// <summary>A household has lived here, whatever lies here now.</summary>
    internal static bool IsMarked(string directory) => File.Exists(Path.Combine(directory, MarkName));

    internal static void Mark(string directory)
    {
        if (IsMarked(directory)) return;
        using var mark = new FileStream(Path.Combine(directory, MarkName), Owners(FileMode.Create));
        mark.Write("A household lives in this directory, in allowance.db. Allowance refuses to begin a new one here while this file is there.\n"u8);
        mark.Flush(true);
    }
}
