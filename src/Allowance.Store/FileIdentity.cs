using System.Buffers.Binary;
using System.Runtime.InteropServices;

namespace Allowance.Store;

/// <summary>Which file lies at a path, whatever it is called: its number on its device. Linux only (statx, man 2 statx).</summary>
internal readonly record struct FileIdentity(ulong Number, ulong Device)
{
    private const int CurrentDirectory = -100, NumberWanted = 0x100, StatxBytes = 256, NumberAt = 0x20, DeviceAt = 0x88;

    /// <returns>Null where no file lies there.</returns>
    public static FileIdentity? Of(string path)
    {
        byte[] buffer = new byte[StatxBytes];
        if (Statx(CurrentDirectory, path, 0, NumberWanted, buffer) != 0) return null;
        return new(BinaryPrimitives.ReadUInt64LittleEndian(buffer.AsSpan(NumberAt)), BinaryPrimitives.ReadUInt64LittleEndian(buffer.AsSpan(DeviceAt)));
    }

    [DllImport("libc", EntryPoint = "statx", ExactSpelling = true)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int Statx(int directory, [MarshalAs(UnmanagedType.LPUTF8Str)] string path, int flags, uint mask, byte[] buffer);
}
