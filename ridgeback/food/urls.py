from django.urls import path

from ridgeback.food import views

app_name = "food"
urlpatterns = [
    path("animals/<int:pk>/food/", views.page, name="page"),
    path("animals/<int:pk>/food/meal/", views.log, name="log"),
    path("animals/<int:pk>/food/condition/", views.score, name="score"),
    path("animals/<int:pk>/food/spell/", views.begin, name="begin"),
    path("animals/<int:pk>/food/spell/over/", views.end, name="end"),
]
