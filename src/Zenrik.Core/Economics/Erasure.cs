namespace Zenrik.Core.Economics;

/// <summary>How storage that leaves the house is made unreadable (NIST SP 800-88 Revision 1, from memory).</summary>
public enum ErasureMethod
{
    /// <summary>Overwrite or reset by the ordinary commands: keeps out keyboards and recovery programs.</summary>
    Clear,

    /// <summary>The drive's own erase, or throwing its encryption key away: keeps out laboratories.</summary>
    Purge,

    /// <summary>Shred, pulverise or melt: nothing is left to read or to use.</summary>
    Destroy,
}

public enum StorageKind
{
    /// <summary>Flash with a controller of its own: NVMe, SATA, soldered modules.</summary>
    SolidState,
    Magnetic,

    /// <summary>Flash whose content was always encrypted by the machine, as on managed Chromebooks.</summary>
    EncryptedAlways,
}

/// <summary>What the storage held.</summary>
public enum DataHeld
{
    /// <summary>Nothing but what anybody may read.</summary>
    Public,

    /// <summary>Ordinary work and pupils' work.</summary>
    Internal,

    /// <summary>Health, welfare, personnel, examination papers.</summary>
    Confidential,
}

/// <summary>A method and why.</summary>
/// <param name="Least">The least that will do.</param>
public sealed record ErasureAdvice(ErasureMethod Least, string Reason);

public static class Erasure
{
    /// <summary>
    /// The least method: by what it held, then by whether it leaves the house, as the decision flow of NIST SP 800-88
    /// Rev. 1 goes. Overwriting does not reach all of a solid-state drive, so Clear is no answer there for what is
    /// confidential; a drive that does not answer can only be destroyed.
    /// </summary>
    public static ErasureAdvice Advise(StorageKind kind, DataHeld held, bool leavesHouse, bool answers) =>
        !answers ? new(ErasureMethod.Destroy, "It does not answer, so nothing but destroying it can be proved.")
        : held == DataHeld.Public && !leavesHouse
            ? new(ErasureMethod.Clear, "Nothing in it is secret, and it stays in the house.")
        : held == DataHeld.Confidential && leavesHouse && kind == StorageKind.SolidState
            ? new(
                ErasureMethod.Purge,
                "Confidential and leaving the house: the drive's own erase, proved by its answer; destroy it when it gives none."
            )
        : held == DataHeld.Confidential ? new(ErasureMethod.Purge, "Confidential: beyond the reach of a laboratory.")
        : leavesHouse && kind != StorageKind.EncryptedAlways ? new(ErasureMethod.Purge, "It leaves the house.")
        : new(
            ErasureMethod.Clear,
            kind == StorageKind.EncryptedAlways
                ? "Always encrypted: a reset throws the key away."
                : "It stays in the house."
        );

    /// <summary>Whether a method is enough.</summary>
    public static bool Suffices(ErasureMethod chosen, ErasureAdvice advice) => chosen >= advice.Least;
}
