import { Module } from '@nestjs/common';
import { DocumentsService } from './documents.service';
import { PicturesService } from './pictures.service';
import { ShowingService } from './showing.service';
import { VersionsService } from './versions.service';

const SERVICES = [DocumentsService, PicturesService, ShowingService, VersionsService];

@Module({ providers: SERVICES, exports: SERVICES })
export class DocumentsModule {}
