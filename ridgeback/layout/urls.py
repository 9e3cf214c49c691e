from django.urls import path

from ridgeback.layout import views

app_name = "layout"
urlpatterns = [
    path("enclosures/<int:pk>/layout/", views.layout, name="page"),
    path("enclosures/<int:pk>/layout/step/", views.step, name="step"),
    path("enclosures/<int:pk>/layout/changes/", views.changes, name="changes"),
    path("enclosures/<int:pk>/layout/save/", views.save, name="save"),
]
