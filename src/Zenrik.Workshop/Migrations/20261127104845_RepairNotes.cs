using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class RepairNotes : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "repair_notes",
                columns: table => new
                {
                    id = table
                        .Column<long>(type: "bigint", nullable: false)
                        .Annotation(
                            "Npgsql:ValueGenerationStrategy",
                            NpgsqlValueGenerationStrategy.IdentityByDefaultColumn
                        ),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    text = table.Column<string>(type: "character varying(400)", maxLength: 400, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_repair_notes", x => x.id);
                    table.ForeignKey(
                        name: "fk_repair_notes_asp_net_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_repair_notes_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateIndex(name: "ix_repair_notes_by_id", table: "repair_notes", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_repair_notes_collected_once",
                table: "repair_notes",
                column: "repair_id",
                unique: true,
                filter: "kind = 'Collected'"
            );

            migrationBuilder.CreateIndex(
                name: "ix_repair_notes_repair_id_id",
                table: "repair_notes",
                columns: new[] { "repair_id", "id" }
            );

            // History is never changed or deleted, as in book.sql.
            migrationBuilder.Sql(
                "CREATE TRIGGER repair_notes_append_only BEFORE UPDATE OR DELETE ON repair_notes FOR EACH ROW EXECUTE FUNCTION refuse_change();"
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "repair_notes");
        }
    }
}
