using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class AuditAndNotice : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "notice",
                table: "house_figures",
                type: "character varying(1000)",
                maxLength: 1000,
                nullable: true
            );

            migrationBuilder.CreateTable(
                name: "audit_lines",
                columns: table => new
                {
                    id = table
                        .Column<long>(type: "bigint", nullable: false)
                        .Annotation(
                            "Npgsql:ValueGenerationStrategy",
                            NpgsqlValueGenerationStrategy.IdentityByDefaultColumn
                        ),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    act = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    target = table.Column<string>(type: "character varying(140)", maxLength: 140, nullable: false),
                    words = table.Column<string[]>(type: "text[]", nullable: false),
                    changes = table.Column<string>(type: "jsonb", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_audit_lines", x => x.id);
                    table.ForeignKey(
                        name: "fk_audit_lines_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_audit_lines_by_id_id",
                table: "audit_lines",
                columns: new[] { "by_id", "id" }
            );

            migrationBuilder
                .CreateIndex(name: "ix_audit_lines_words", table: "audit_lines", column: "words")
                .Annotation("Npgsql:IndexMethod", "gin");

            migrationBuilder.Sql(
                """
                CREATE TRIGGER audit_lines_append_only BEFORE UPDATE OR DELETE ON audit_lines
                    FOR EACH ROW EXECUTE FUNCTION refuse_change();
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "audit_lines");

            migrationBuilder.DropColumn(name: "notice", table: "house_figures");
        }
    }
}
