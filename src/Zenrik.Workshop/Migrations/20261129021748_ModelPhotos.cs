using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class ModelPhotos : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AlterColumn<string>(
                name: "goal",
                table: "bench_entries",
                type: "text",
                nullable: true,
                oldClrType: typeof(string),
                oldType: "character varying(80)",
                oldMaxLength: 80,
                oldNullable: true
            );

            migrationBuilder.CreateTable(
                name: "model_photos",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    model_code = table.Column<string>(type: "character varying(40)", nullable: false),
                    jpeg = table.Column<byte[]>(type: "bytea", nullable: false),
                    act = table.Column<string>(type: "character varying(120)", maxLength: 120, nullable: true),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_model_photos", x => x.id);
                    table.ForeignKey(
                        name: "fk_model_photos_asp_net_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_model_photos_models_model_code",
                        column: x => x.model_code,
                        principalTable: "models",
                        principalColumn: "code",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateIndex(name: "ix_model_photos_by_id", table: "model_photos", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_model_photos_model_code_at",
                table: "model_photos",
                columns: new[] { "model_code", "at" },
                unique: true
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "model_photos");

            migrationBuilder.AlterColumn<string>(
                name: "goal",
                table: "bench_entries",
                type: "character varying(80)",
                maxLength: 80,
                nullable: true,
                oldClrType: typeof(string),
                oldType: "text",
                oldNullable: true
            );
        }
    }
}
